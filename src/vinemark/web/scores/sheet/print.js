/* The sheet on paper: its columns in parts that fit a page, names repeated, totals and letters in the last part. */

import { isColumnShown } from "./columns.js";
import { sheet } from "./state.js";

const COLUMNS = 14;
const TOTALS = 6;
let printed = null;

/* Columns by their place in a row: items and their categories' percents, then the totals. */
function parts() {
  const places = [...sheet.tHead.rows[1].cells].slice(1).filter(isColumnShown).map((cell) => cell.cellIndex);
  const work = places.slice(0, -TOTALS);
  const cut = [];
  for (let at = 0; at < work.length; at += COLUMNS) cut.push(work.slice(at, at + COLUMNS));
  const last = cut.at(-1);
  if (last && last.length + TOTALS <= COLUMNS) last.push(...places.slice(-TOTALS));
  else cut.push(places.slice(-TOTALS));
  return cut;
}

const NAMED = {
  points: "Points", plain: "Without weights", "so-far": "So far", zero: "Blanks as 0", full: "Blanks full",
};

function headingText(cell) {
  const item = cell.querySelector("[data-name]");
  if (item) return `${item.dataset.name} ${cell.querySelector(".item-points").textContent}`;
  const kind = Object.keys(NAMED).find((name) => cell.classList.contains(name));
  const what = cell.textContent.trim();
  if (kind) return `${NAMED[kind]} ${what === "Ltr" ? "letter" : what}`;
  const bands = [...sheet.querySelectorAll("[data-band] .fold")];
  const before = [...cell.parentElement.querySelectorAll(".sub")].indexOf(cell);
  return `${bands[before]?.title ?? ""} %`;
}

function cellOf(kind, from, text = from.textContent.trim()) {
  const made = document.createElement(kind);
  made.textContent = text;
  made.className = from.className;
  return made;
}

function rowOf(from, places, kind, text) {
  const row = document.createElement("tr");
  row.append(cellOf("th", from.cells[0]));
  for (const place of places) row.append(cellOf(kind, from.cells[place], text?.(from.cells[place])));
  return row;
}

function table(places) {
  const made = document.createElement("table");
  made.className = "printed";
  made.createTHead().append(rowOf(sheet.tHead.rows[1], places, "th", headingText));
  const body = made.createTBody();
  for (const row of sheet.tBodies[0].rows) if (!row.hidden) body.append(rowOf(row, places, "td"));
  for (const row of sheet.tFoot.rows) body.append(rowOf(row, places, "td"));
  return made;
}

export function start() {
  window.addEventListener("beforeprint", () => {
    printed?.remove();
    printed = document.createElement("div");
    printed.className = "printed-sheet";
    printed.append(...parts().map(table));
    sheet.closest("main").append(printed);
  });
  window.addEventListener("afterprint", () => {
    printed?.remove();
    printed = null;
  });
}
