/* What a cell shows: what is saved, what is on its way, what was refused or changed by somebody else. */

import { show as showUnsaved } from "../../ui/unsaved.js";
import { cellOf, headingOf, isScore, studentOf } from "./layout.js";
import { remarkLeftOpen, showWorking } from "./margin.js";
import { enqueue, pending as onItsWay, takeUp } from "./queue.js";
import { focus, say, sheet } from "./state.js";
import { namesHidden } from "./view.js";

export const pending = (cell) => onItsWay(studentOf(cell), cell.dataset.item);

/* Cells and what was typed into them go to the server. */
export function change(found, what) {
  const sent = found.map(([cell, typed]) => ({
    student: studentOf(cell),
    item: cell.dataset.item,
    typed,
    was: keptText(cell),
  }));
  for (const [cell, typed] of found) showSending(cell, typed);
  enqueue({ cells: sent, what: what ?? "" });
}

/* What the cell held when this person last saw it: somebody else's change in between is then noticed. */
function keptText(cell) {
  return cell.dataset.kept ?? cell.textContent;
}

function showSending(cell, typed) {
  remember(cell);
  cell.classList.add("sending");
  cell.classList.remove("refused", "conflict");
  cell.removeAttribute("aria-invalid");
  cell.dataset.typed = typed;
  cell.textContent = typed;
}

export function remember(cell) {
  if (!cell.classList.contains("refused") && !pending(cell)) cell.dataset.kept = cell.textContent;
}

export function refuse(cell, typed, reason) {
  if (!cell || pending(cell)) return;
  cell.classList.add("refused");
  cell.setAttribute("aria-invalid", "true");
  cell.title = reason;
  cell.dataset.typed = typed;
  if (!cell.querySelector("input")) cell.textContent = typed;
  say(refusal(cell));
}

export const refusal = (cell) => `“${cell.dataset.typed}” is not saved: it ${cell.title}.`;

/* The later of two people sees what was there; typing again replaces it, Escape leaves it. */
export function conflict(cell, typed, { by, now }) {
  if (!cell || pending(cell)) return;
  cell.classList.add("conflict");
  cell.dataset.typed = typed;
  cell.title = `${by} entered ${now || "a blank"} meanwhile; you typed ${typed || "a blank"}`;
  say(`Not saved: ${cell.title}. Type again to replace it, or press Escape to leave it.`);
}

/* Escape on a refused cell gives up what was typed and shows what is saved. */
export function letGo(cell) {
  const refused = cell.classList.contains("refused");
  cell.classList.remove("refused", "conflict");
  cell.removeAttribute("aria-invalid");
  cell.removeAttribute("title");
  if (refused) cell.textContent = cell.dataset.kept ?? "";
  delete cell.dataset.typed;
  takeUp({ student: studentOf(cell), item: cell.dataset.item });
  say("");
  showUnsaved();
}

export function readRows(rows) {
  const html = Object.values(rows).join("");
  return new DOMParser().parseFromString(`<table><tbody>${html}</tbody></table>`, "text/html");
}

/* Answers may overtake one another: a row shows the latest state of the section that told of it. */
export function showRows(read, { feet, figures, blanks }, last) {
  for (const now of read.querySelectorAll("tbody tr")) {
    const old = document.getElementById(`row-${now.dataset.student}`);
    if (!old || last < Number(old.dataset.last ?? 0)) continue;
    old.dataset.last = last;
    showRow(now, old);
  }
  for (const [item, foot] of Object.entries(feet)) showFoot(item, foot);
  showClass(figures, blanks, last);
}

let classShown = 0;

/* Figures of the whole class below the grades, and how many blanks are left. */
function showClass(figures, blanks, last) {
  if (last < classShown || blanks === undefined) return;
  classShown = last;
  for (const [column, figure] of Object.entries(figures)) {
    for (const name of ["average", "median", "scored"]) {
      const cell = sheet.querySelector(`[data-foot="${name}"][data-foot-figure="${CSS.escape(column)}"]`);
      if (cell) cell.textContent = figure.scored ? figure[name] : "";
    }
  }
  document.getElementById("blanks-said").textContent = blanks;
}

function showRow(now, old) {
  const { student } = now.dataset;
  for (const cell of now.querySelectorAll("td.cell")) {
    refresh(old.querySelector(`[data-item="${CSS.escape(cell.dataset.item)}"]`), cell);
  }
  for (const figure of now.querySelectorAll("[data-figure]")) {
    const shown = old.querySelector(`[data-figure="${figure.dataset.figure}"]`);
    shown.textContent = figure.textContent;
    figure.title ? (shown.title = figure.title) : shown.removeAttribute("title");
  }
  now.dataset.near ? (old.dataset.near = "yes") : delete old.dataset.near;
  if (focus.current && studentOf(focus.current) === student) showWorking(focus.current, true);
}

function refresh(cell, now) {
  if (!cell || pending(cell) || cell.querySelector("input") || cell.classList.contains("refused")) return;
  if (cell.classList.contains("conflict")) { cell.textContent = now.textContent; return; }
  const picked = cell.classList.contains("picked");
  cell.className = now.className;
  cell.classList.toggle("picked", picked);
  cell.textContent = now.textContent;
  delete cell.dataset.kept;
  now.title ? (cell.title = now.title) : cell.removeAttribute("title");
  now.dataset.counts ? (cell.dataset.counts = now.dataset.counts) : delete cell.dataset.counts;
  now.dataset.remark ? (cell.dataset.remark = now.dataset.remark) : delete cell.dataset.remark;
  if (cell === focus.current) describe(cell);
}

function showFoot(item, foot) {
  const put = (key, text) => {
    const cell = sheet.querySelector(`[data-foot="${key}"][data-foot-item="${CSS.escape(item)}"]`);
    if (cell) cell.textContent = text;
  };
  put("average", foot.average);
  put("median", foot.median);
  put("range", foot.scored ? `${foot.lowest}–${foot.highest}` : "");
  put("scored", foot.scored);
  const release = sheet.querySelector(`[data-release="${CSS.escape(item)}"]`);
  if (!release || !foot.release) return;
  release.textContent = foot.release;
  release.classList.toggle("open", foot.release === "visible");
}

/* What a screen reader hears: student, item, value, state. */
export function describe(cell) {
  const row = cell.parentElement;
  const who = namesHidden() ? `row ${row.sectionRowIndex + 1}` : row.cells[0].textContent.trim();
  const text = cell.textContent.trim();
  if (!isScore(cell)) {
    cell.setAttribute("aria-label", `${who}, ${figureName(cell)}, ${text}, worked out`);
    return;
  }
  const item = headingOf(cell).querySelector("[data-name]").dataset.name;
  const remark = cell.dataset.remark ? `remark: ${cell.dataset.remark}` : "";
  const heard = [`${who}, ${item}, ${text || "blank"}`, cell.title, remark];
  cell.setAttribute("aria-label", heard.filter(Boolean).join(", "));
}

function figureName(cell) {
  const band = sheet.querySelector(`[data-band="${cell.dataset.figure}"] .fold`);
  if (band) return `${band.title} percent`;
  const names = {
    "so-far": "so far", points: "points so far", plain: "average without weights", zero: "blanks as 0",
    full: "blanks full",
  };
  return names[cell.dataset.figure.replace("-letter", "")];
}

function leaveRemarkOpen({ student, item, typed, by, now, reason }) {
  const remark = { student: student.slice("remark ".length), item, text: typed };
  remarkLeftOpen(remark, by ? { by, now } : undefined, reason);
}

/* After a reload the cells that were still waiting show what was typed into them, and the refused ones why. */
export function restored(queue, refused) {
  for (const one of queue.flatMap((waits) => waits.cells)) {
    const cell = cellOf(one);
    if (cell) showSending(cell, one.typed);
  }
  for (const one of refused) {
    if (one.student.startsWith("remark ")) leaveRemarkOpen(one);
    const cell = cellOf(one);
    if (!cell) continue;
    remember(cell);
    if (one.reason) refuse(cell, one.typed, one.reason);
    else conflict(cell, one.typed, one);
  }
  if (queue.length) say("Cells that were not saved yet are sent again.");
}
