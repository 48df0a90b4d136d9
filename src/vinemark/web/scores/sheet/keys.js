/* The keyboard of the score sheet: what each key does at rest, while typing, and in the headings. */

import { remember } from "./cells.js";
import { clear, commit, edit, editing, entering, fillDown, restore } from "./edit.js";
import { focusCell, move, selectAll, tab } from "./focus.js";
import { isScore, neighbour, shownRows } from "./layout.js";
import { toRemark } from "./margin.js";
import { focus, say, sheet, writable } from "./state.js";
import { redo, undo } from "./undo.js";
import { bring } from "./window.js";

const FAR = 9999;
const PAGE = 15;
const MOVES = {
  ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1],
  PageUp: [-PAGE, 0], PageDown: [PAGE, 0],
};

export function onKey(event) {
  const { current } = focus;
  if (!current || event.altKey || !event.target.closest("tbody td")) return;
  bring(current.parentElement);
  if (leaving(event)) return;
  if (editing()) whileTyping(event);
  else whileResting(event);
}

/* Enter, Tab and Escape end what is being typed. */
function leaving(event) {
  if (event.key === "Tab") {
    /* While scores are being typed Tab goes on to the next cell; at rest, and after Escape, it leaves the sheet. */
    if (editing()) focus.typing = true;
    commit();
    if (!focus.typing) return true;
    /* Enter after Tabs goes on under the cell in which they began, as in a spreadsheet. */
    focus.began ??= focus.current.cellIndex;
    tab(event);
    return true;
  }
  if (event.key !== "Enter" && event.key !== "Escape") return false;
  event.preventDefault();
  if (event.key === "Escape") {
    restore();
    focus.typing = false;
    focus.began = null;
    return true;
  }
  if (editing()) focus.typing = true;
  commit();
  const next = neighbour(focus.current, event.shiftKey ? -1 : 1, 0, true);
  const began = focus.began;
  focusCell(began === null || event.shiftKey ? next : next.parentElement.cells[began]);
  focus.began = null;
  return true;
}

function whileTyping(event) {
  const sideways = event.key === "ArrowLeft" || event.key === "ArrowRight";
  if (event.key !== "ArrowUp" && event.key !== "ArrowDown" && !(sideways && entering())) return;
  event.preventDefault();
  focus.began = null;
  commit();
  move(...MOVES[event.key], false, true);
}

function whileResting(event) {
  if (moving(event) || asking(event) || event.key === "/" || !writable) return;
  const ctrl = event.ctrlKey || event.metaKey;
  const { current } = focus;
  if (!isScore(current) && !ctrl) {
    if (event.key.length === 1 || event.key === "F2") say("This figure is worked out; it cannot be typed.");
    return;
  }
  if (ctrl) return void withControl(event);
  writing(event);
}

function moving(event) {
  const ctrl = event.ctrlKey || event.metaKey;
  const ends = { Home: -FAR, End: FAR }[event.key];
  if (!ends && !MOVES[event.key]) return false;
  focus.began = null;
  event.preventDefault();
  const [down, across] = MOVES[event.key] ?? [ctrl ? ends : 0, ends];
  if (!ends && !ctrl) move(down, across, event.shiftKey);
  else if (ends) focusCell(neighbour(focus.current, down, across, event.shiftKey), event.shiftKey);
  else focusCell(neighbour(focus.current, down * FAR, across * FAR, event.shiftKey), event.shiftKey);
  return true;
}

/* Shift F2 writes a remark; the question mark tells the keys. */
function asking(event) {
  const remark = event.key === "F2" && event.shiftKey;
  if (!remark && (event.key !== "?" || document.body.dataset.keys === "off")) return false;
  event.preventDefault();
  if (remark) toRemark();
  else showHelp();
  return true;
}

export function showHelp() {
  document.getElementById("sheet-help").showModal();
}

function writing(event) {
  const wipes = event.key === "Delete" || event.key === "Backspace";
  if (!wipes && event.key !== "F2" && event.key.length !== 1) return;
  event.preventDefault();
  if (wipes) return void clear();
  remember(focus.current);
  if (event.key === "F2") edit();
  else edit(event.key === " " ? "" : event.key);
}

function withControl(event) {
  const key = event.key.toLowerCase();
  if (key === "z" && !event.shiftKey) undo();
  else if (key === "y" || (key === "z" && event.shiftKey)) redo();
  else if (key === "d" && isScore(focus.current)) fillDown();
  else if (key === "a") selectAll();
  else return;
  event.preventDefault();
}

/* Headings are gone along with the arrow keys; down leads into the column. */
export function onHeading(event) {
  const button = event.target.closest("[data-heading], [data-fold]");
  if (!button) return;
  const kind = button.matches("[data-fold]") ? "[data-fold]" : "[data-heading]";
  const next = upOrDown(event.key, button) ?? across(event.key, button, kind);
  if (!next) return;
  event.preventDefault();
  if (next.matches("td")) focusCell(next);
  else next.focus();
}

/* From a heading up to its category and down to the first row; from a category down to its first heading. */
function upOrDown(key, button) {
  const place = button.dataset.fold ?? /\bk(\d+)\b/.exec(button.closest("th").className)?.[1];
  if (key === "ArrowUp" && button.dataset.heading) return sheet.querySelector(`[data-fold="${place}"]`);
  if (key !== "ArrowDown") return null;
  if (button.dataset.fold) return sheet.querySelector(`.item-head.k${place} [data-heading]`);
  return shownRows()[0]?.cells[button.closest("th").cellIndex];
}

function across(key, button, kind) {
  const step = { ArrowLeft: -1, ArrowRight: 1 }[key];
  if (!step) return null;
  const all = [...sheet.querySelectorAll(kind)].filter((one) => one.offsetParent);
  return all[all.indexOf(button) + step];
}
