/* The score sheet put together: its keyboard, its pointer, its queue, and what others change meanwhile. */

import { show as showUnsaved } from "../../ui/unsaved.js";
import { answered, lookAround } from "./answers.js";
import { describe, restored } from "./cells.js";
import { startColumns } from "./columns.js";
import { startCompact } from "./compact.js";
import { commit, copy, paste } from "./edit.js";
import { focusCell, goTo, takeFirst } from "./focus.js";
import { onHeading, onKey, showHelp } from "./keys.js";
import { onMargin, sendRemark, showChoice } from "./margin.js";
import { start as startOrder } from "./order.js";
import { start as startPointer } from "./pointer.js";
import { start as startPrinting } from "./print.js";
import { start as startQueue } from "./queue.js";
import { focus, margin, sheet } from "./state.js";
import { start as startStay } from "./stay.js";
import { addressOf } from "./undo.js";
import { start as startView } from "./view.js";
import { measure, start as startWindow } from "./window.js";

const EVERY = 4000;

/* When the cell with the focus is folded or filtered away, the first one shown takes its place. */
function viewChanged() {
  const { current } = focus;
  measure();
  if (!current) return;
  if (!current.parentElement.hidden && getComputedStyle(current).display !== "none") return;
  commit();
  takeFirst();
}

/* The focus that goes elsewhere takes what was typed with it. */
function left(event) {
  setTimeout(() => {
    if (!sheet.contains(document.activeElement)) focus.typing = false;
  }, 0);
  if (event.target.tagName !== "INPUT" || event.target.closest("td").contains(event.relatedTarget)) return;
  setTimeout(() => {
    if (event.target.isConnected) commit();
  }, 0);
}

/* A refused cell in words, and the way to it. */
function wordsOf({ student, item, typed, reason, by }) {
  const row = document.getElementById(`row-${student.replace(/^remark /, "")}`);
  const who = row?.cells[0].textContent.trim() ?? student;
  const what = document.getElementById(`item-${item}`)?.querySelector("[data-name]").dataset.name ?? item;
  return `${who}, ${what}: “${typed}” ${reason ? `(${reason})` : `(${by} changed it meanwhile)`}`;
}

const goToPlace = ({ student, item }) => goTo(`#cell-${student.replace(/^remark /, "")}-${item}`);

function listen() {
  sheet.addEventListener("keydown", onKey);
  sheet.tHead.addEventListener("keydown", onHeading);
  sheet.addEventListener("focusin", (event) => {
    if (event.target.matches("td.cell") && event.target !== focus.current) focusCell(event.target);
  });
  sheet.addEventListener("focusout", left);
  for (const [kind, run] of [["copy", copy], ["cut", copy], ["paste", paste]]) document.addEventListener(kind, run);
  margin.addEventListener("keydown", onMargin);
  margin.addEventListener("change", onMargin);
  margin.addEventListener("htmx:afterSwap", showChoice);
  document.getElementById("show-help").addEventListener("click", showHelp);
  window.addEventListener("hashchange", () => goTo(location.hash));
  window.addEventListener("pagehide", () => { commit(); sendRemark(); });
}

if (sheet) {
  listen();
  startPointer();
  startWindow();
  startPrinting();
  startCompact();
  startView(viewChanged);
  startColumns(viewChanged);
  startOrder(viewChanged);
  const first = takeFirst();
  if (first) describe(first);
  goTo(location.hash);
  startStay();
  startQueue({ addressOf, answered, goTo: goToPlace, restored, words: wordsOf });
  document.getElementById("sheet-missing").remove();
  showUnsaved();
  setInterval(lookAround, EVERY);
  document.addEventListener("visibilitychange", lookAround);
}
