/* The order of the rows: by the class list, by name, by ID, by a figure or by any item; the server keeps none. */

import { changed } from "./layout.js";
import { sheet } from "./state.js";

const by = document.getElementById("sort-rows");
const compare = new Intl.Collator(undefined, { numeric: true, sensitivity: "base" }).compare;
const listed = [...(sheet?.tBodies[0].rows ?? [])];
let down = false;
let tell = () => {};

const place = new Map(listed.map((row, index) => [row, index]));
const number = (text) => (/^[−-]?\d/.test(text) ? parseFloat(text.replace("−", "-")) : null);

function textOf(row, wanted) {
  if (wanted === "name") return row.cells[0].textContent.trim();
  if (wanted === "id") return row.dataset.student;
  const cell = wanted === "so-far"
    ? row.querySelector("[data-figure='so-far']")
    : row.querySelector(`[data-item="${CSS.escape(wanted.slice("item ".length))}"]`);
  return cell?.textContent.trim() ?? "";
}

/* Numbers first, then words such as missing, blanks last, whichever way they go. */
function rank(one, other) {
  if (one.text === "" || other.text === "") return (one.text === "") - (other.text === "");
  if (one.number !== null && other.number !== null) return (one.number - other.number) * (down ? -1 : 1);
  if ((one.number === null) !== (other.number === null)) return one.number === null ? 1 : -1;
  return compare(one.text, other.text) * (down ? -1 : 1);
}

function sort(wanted) {
  by.value = wanted;
  const named = wanted === "name" || wanted === "id";
  const rows = listed.map((row) => {
    const text = wanted ? textOf(row, wanted) : "";
    return { row, text, number: named ? null : number(text) };
  });
  if (wanted) rows.sort((one, other) => rank(one, other) || place.get(one.row) - place.get(other.row));
  const focused = document.activeElement;
  sheet.tBodies[0].append(...rows.map((one) => one.row));
  if (sheet.contains(focused)) focused.focus({ preventScroll: true });
  changed();
  tell();
}

export function start(onChange) {
  tell = onChange;
  by.addEventListener("change", () => {
    down = by.value.startsWith("item") || by.value === "so-far";
    sort(by.value);
  });
}
