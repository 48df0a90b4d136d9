/* The pointer in the score sheet: choosing a cell, drawing a block, typing after a double click. */

import { remember } from "./cells.js";
import { commit, edit, editing } from "./edit.js";
import { focusCell } from "./focus.js";
import { isScore } from "./layout.js";
import { focus, sheet, working, writable } from "./state.js";

export function start() {
  sheet.addEventListener("mousedown", pressed);
  sheet.addEventListener("mouseover", drawn);
  sheet.addEventListener("dblclick", twice);
  sheet.addEventListener("click", tapped);
  document.addEventListener("mouseup", () => {
    focus.dragging = false;
  });
  /* A heading puts its item's own panel into the margin. */
  sheet.addEventListener("click", (event) => {
    if (event.target.closest("button.item-name")) working.shown = null;
  });
}

function pressed(event) {
  const cell = event.target.closest("tbody td");
  if (!cell || event.target.tagName === "INPUT") return;
  event.preventDefault();
  if (cell !== focus.current) commit();
  focusCell(cell, event.shiftKey, true);
  focus.dragging = !event.shiftKey;
}

function drawn(event) {
  if (!focus.dragging || event.buttons !== 1 || !isScore(focus.current)) return;
  const cell = event.target.closest("td.cell");
  if (cell && cell !== focus.current) focusCell(cell, true, true);
}

/* A finger has no keys: one tap opens the keyboard on a cell. */
function tapped(event) {
  if (event.pointerType !== "touch" || !writable || editing() || !event.target.closest("td.cell")) return;
  remember(focus.current);
  edit();
}

function twice(event) {
  if (!event.target.closest("td.cell")) return;
  remember(focus.current);
  edit();
}
