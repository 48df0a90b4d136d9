/* Where things stand in the score sheet: rows and columns that are shown, and the cells in them. */

import { sheet } from "./state.js";

let rows = null;
let columns = null;

/* After rows were filtered or a category folded. */
export function changed() {
  rows = null;
  columns = null;
}

export const shownRows = () => (rows ??= [...sheet.tBodies[0].rows].filter((row) => !row.hidden));
export const isScore = (cell) => Boolean(cell?.classList.contains("cell"));
export const studentOf = (cell) => cell.parentElement.dataset.student;
export const cellOf = ({ student, item }) => document.getElementById(`cell-${student}-${item}`);
export const headingOf = (cell) => document.getElementById(`item-${cell.dataset.item}`);

function shownColumns() {
  if (columns) return columns;
  /* The headings tell: rows that are scrolled away are not laid out. */
  const shown = [...sheet.tHead.rows[1].cells].slice(1).filter((cell) => cell.offsetParent !== null);
  const first = sheet.tBodies[0].rows[0];
  const all = shown.map((cell) => cell.cellIndex);
  columns = { all, scores: all.filter((place) => isScore(first.cells[place])) };
  return columns;
}

/* The items whose columns are shown, in order. */
export function shownItems() {
  const first = sheet.tBodies[0].rows[0];
  return shownColumns().scores.map((place) => first.cells[place].dataset.item);
}

const clamp = (place, length) => Math.max(0, Math.min(length - 1, place));

/* The cell so many rows down and columns across; figures are passed by where only scores are wanted. */
export function neighbour(cell, down, across, scoresOnly) {
  const found = shownRows();
  const row = found[clamp(found.indexOf(cell.parentElement) + down, found.length)];
  const places = scoresOnly ? shownColumns().scores : shownColumns().all;
  const here = places.indexOf(cell.cellIndex);
  const from = here >= 0 ? here : places.filter((place) => place < cell.cellIndex).length - (across > 0 ? 1 : 0);
  return row?.cells[places[clamp(from + across, places.length)]];
}

/* The next score cell in reading order; nothing past the last. */
export function following(cell, step) {
  const places = shownColumns().scores;
  const here = places.indexOf(cell.cellIndex);
  if (here < 0) return neighbour(cell, 0, step, true);
  const found = shownRows();
  const at = found.indexOf(cell.parentElement) * places.length + here + step;
  return found[Math.floor(at / places.length)]?.cells[places[((at % places.length) + places.length) % places.length]];
}

/* Score cells between two corners, row by row. */
export function block(one, other) {
  const found = shownRows();
  const [top, bottom] = [found.indexOf(one.parentElement), found.indexOf(other.parentElement)].sort((a, b) => a - b);
  const [left, right] = [one.cellIndex, other.cellIndex].sort((a, b) => a - b);
  const places = shownColumns().scores.filter((place) => place >= left && place <= right);
  return found.slice(Math.max(0, top), bottom + 1).map((row) => places.map((place) => row.cells[place]));
}

/* Rows of values laid over the sheet from a cell on; what would fall outside is counted. */
export function laidOut(values, first) {
  const found = shownRows();
  const places = shownColumns().scores;
  const top = found.indexOf(first.parentElement);
  const left = places.indexOf(first.cellIndex);
  const at = (down, across) => found[top + down]?.cells[places[left + across]];
  const pairs = values.flatMap((line, down) => line.map((value, across) => [at(down, across), value]));
  return { pairs: pairs.filter(([cell]) => cell), outside: pairs.filter(([cell]) => !cell).length };
}

export const firstCell = () => shownRows()[0]?.cells[shownColumns().scores[0]];

export function cellAt(row, column) {
  return row?.cells[column];
}
