/* A large class: only the rows around what is in sight are laid out; the others wait, in the page but not drawn. */

import { shownRows } from "./layout.js";
import { sheet } from "./state.js";

const AROUND = 10;
const windowed = Boolean(sheet?.classList.contains("windowed"));
const box = sheet?.parentElement;
let drawn = new Set();
let height = 24;
let asked = false;

function update() {
  if (!windowed) return;
  const rows = shownRows();
  const first = Math.max(0, Math.floor(box.scrollTop / height) - AROUND);
  const last = Math.min(rows.length, Math.ceil((box.scrollTop + box.clientHeight) / height) + AROUND);
  const wanted = new Set(rows.slice(first, last));
  for (const row of drawn) {
    if (wanted.has(row)) continue;
    row.classList.remove("in");
    /* A row with the focus stays, out of sight: hiding it would lose the focus. */
    row.classList.toggle("away", row.contains(document.activeElement));
  }
  for (const row of wanted) { row.classList.remove("away"); row.classList.add("in"); }
  drawn = wanted;
  sheet.tBodies[0].style.paddingTop = `${first * height}px`;
  sheet.tBodies[0].style.paddingBottom = `${(rows.length - last) * height}px`;
}

function soon() {
  if (asked) return;
  asked = true;
  requestAnimationFrame(() => { asked = false; update(); });
}

/* Before a cell can take the focus its row must be drawn. */
export function bring(row) {
  if (!windowed || row.classList.contains("in")) return;
  const place = shownRows().indexOf(row);
  if (place < 0) return;
  box.scrollTop = Math.max(0, place * height - box.clientHeight / 2);
  update();
}

export function start() {
  if (!windowed) return;
  sheet.setAttribute("aria-rowcount", String(sheet.tBodies[0].rows.length + 2));
  for (const row of sheet.tBodies[0].rows) row.setAttribute("aria-rowindex", String(row.sectionRowIndex + 3));
  /* Until now the style shows the first forty. */
  drawn = new Set([...sheet.tBodies[0].rows].slice(0, 40));
  for (const row of drawn) row.classList.add("in");
  sheet.classList.add("drawn");
  measure();
  box.addEventListener("scroll", soon, { passive: true });
  new ResizeObserver(measure).observe(box);
}

/* Rows are lower when the sheet is compact. */
export function measure() {
  if (!windowed) return;
  height = sheet.querySelector("tbody tr.in")?.offsetHeight || height;
  update();
}
