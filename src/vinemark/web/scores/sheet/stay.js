/* An act on a whole column loads the page again: the sheet then stands where it stood, with its rows and its margin. */

import { focusCell } from "./focus.js";
import { focus, margin, sheet, soon } from "./state.js";

const SAME_PLACE = "#same-place";
const key = `vine-mark-place ${location.pathname}`;
const CHOICES = ["show-category", "show-rows", "sort-rows"];
const SOON = 140;
const box = sheet?.parentElement;

function leave() {
  const choices = CHOICES.map((id) => document.getElementById(id).value);
  const column = margin.querySelector("[data-hide-column]")?.dataset.hideColumn;
  const compact = sheet.classList.contains("scrolled");
  const place = { left: box.scrollLeft, top: box.scrollTop, compact, cell: focus.current?.id, column, choices };
  try { sessionStorage.setItem(key, JSON.stringify(place)); } catch { /* full: the sheet begins at its beginning */ }
}

function left() {
  try { return JSON.parse(sessionStorage.getItem(key)); } catch { return null; }
}

function choose(id, value) {
  const list = document.getElementById(id);
  if (!value || list.value === value || ![...list.options].some((option) => option.value === value)) return;
  list.value = value;
  list.dispatchEvent(new Event("change"));
}

/* The heading takes the focus and opens its margin again, which is where the act was chosen. */
function focusOn({ cell, column }) {
  const found = document.getElementById(cell ?? "");
  if (found && sheet.contains(found) && !found.closest("tr").hidden) focusCell(found);
  const heading = column && sheet.querySelector(`[data-heading="${CSS.escape(column)}"]`);
  if (!heading) return;
  heading.focus({ preventScroll: true });
  soon("working", () => htmx.trigger(heading, "click"), SOON);
}

function back() {
  history.replaceState(history.state, "", location.pathname + location.search);
  const place = left();
  if (!place) return;
  CHOICES.forEach((id, at) => choose(id, place.choices?.[at]));
  focusOn(place);
  sheet.classList.toggle("scrolled", place.compact);
  box.scrollTo(place.left, place.top);
}

export function start() {
  window.addEventListener("pagehide", leave);
  if (location.hash === SAME_PLACE) back();
}
