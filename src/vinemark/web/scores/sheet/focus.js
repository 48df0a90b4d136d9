/* Which cell has the focus, and the block that reaches from it. */

import { describe, refusal } from "./cells.js";
import {
  block as blockOf, cellAt, firstCell, following, headingOf, isScore, neighbour, shownRows,
} from "./layout.js";
import { showWorking } from "./margin.js";
import { focus, say, sheet } from "./state.js";
import { uncover } from "./view.js";
import { bring } from "./window.js";

const GAP = 16;
const FAR = 9999;

export const block = () => blockOf(focus.anchor ?? focus.current, focus.current);

function showBlock() {
  for (const cell of sheet.querySelectorAll(".picked")) {
    cell.classList.remove("picked");
    cell.removeAttribute("aria-selected");
  }
  if (!focus.anchor || focus.anchor === focus.current) return;
  for (const cell of block().flat()) {
    cell.classList.add("picked");
    cell.setAttribute("aria-selected", "true");
  }
}

/* Count, sum and average of the numbers in the block, in whole parts of the smallest place that stands there. */
function figures() {
  const texts = block().flat().map((cell) => cell.textContent.trim()).filter((text) => /^-?\d+(\.\d+)?$/.test(text));
  if (!texts.length) return "";
  const places = Math.max(...texts.map((text) => text.split(".")[1]?.length ?? 0));
  const whole = (text) => BigInt(text.includes(".") ? text.replace(".", "").padEnd(
    text.length - 1 + places - text.split(".")[1].length, "0") : text + "0".repeat(places));
  const sum = texts.reduce((made, text) => made + whole(text), 0n);
  const written = (number, shift) => {
    const digits = String(number < 0n ? -number : number).padStart(shift + 1, "0");
    const [before, after] = [digits.slice(0, digits.length - shift), shift ? digits.slice(-shift) : ""];
    return `${number < 0n ? "−" : ""}${before}${after.replace(/0+$/, "") ? `.${after.replace(/0+$/, "")}` : ""}`;
  };
  const count = BigInt(texts.length);
  const average = (sum * 200n + (sum < 0n ? -count : count)) / (2n * count);
  return `${texts.length} numbers: sum ${written(sum, places)}, average ${written(average, places + 2)}.`;
}

export function selectAll() {
  const rows = shownRows();
  const first = firstCell();
  if (!first) return;
  focus.anchor = first;
  focusCell(neighbour(first, rows.length, FAR, true), true);
}

/* A cell that was pointed at is in sight: scrolling it under the pointer would choose its neighbour. */
export function focusCell(cell, extend = false, pointed = false) {
  if (!cell) return;
  if (pointed) focus.began = null;
  if (!extend) focus.anchor = null;
  else focus.anchor ??= focus.current;
  take(cell);
  describe(cell);
  bring(cell.parentElement);
  cell.focus({ preventScroll: true });
  if (!pointed) reveal(cell);
  showBlock();
  say(cell.classList.contains("refused") ? refusal(cell) : extend ? figures() : "");
  showWorking(cell);
}

/* One cell of the sheet is its stop of Tab. */
function take(cell) {
  if (focus.current && focus.current !== cell) focus.current.tabIndex = -1;
  focus.current = cell;
  cell.tabIndex = 0;
}

export function takeFirst() {
  const first = firstCell();
  if (first) take(first);
  return first;
}

/* The frozen names and headings must not cover the cell that has the focus. */
function reveal(cell) {
  const box = sheet.parentElement;
  const place = cell.getBoundingClientRect();
  const frame = box.getBoundingClientRect();
  const left = frame.left + sheet.querySelector("tbody .name").offsetWidth;
  const top = frame.top + sheet.tHead.offsetHeight;
  if (place.left < left) box.scrollLeft -= left - place.left;
  const right = cell.matches(".so-far") ? frame.right : frame.right - GAP - frozenRight();
  if (place.right > right) box.scrollLeft += place.right - right;
  if (place.top < top) box.scrollTop -= top - place.top;
  if (place.bottom > frame.bottom - GAP) box.scrollTop += place.bottom - frame.bottom + GAP;
}

/* The width of the figures that stay at the right edge. */
function frozenRight() {
  const band = sheet.querySelector("thead .so-far.own");
  return band ? band.offsetWidth : 0;
}

/* Up from the first row goes to the heading. */
export function move(down, across, extend = false, scoresOnly = false) {
  const { current } = focus;
  if (down < 0 && !extend && current.parentElement === shownRows()[0] && isScore(current)) {
    headingOf(current).querySelector("button").focus();
    return;
  }
  focusCell(neighbour(current, down, across, extend || scoresOnly), extend);
}

/* Tab at the end of a row goes on with the next one; past the last cell it leaves the sheet. */
export function tab(event) {
  const next = following(focus.current, event.shiftKey ? -1 : 1);
  if (!next) return;
  event.preventDefault();
  focusCell(next);
}

/* #cell-…, #row-… and #item-… name a place; a student keeps the column, an item keeps the row. */
export function goTo(hash) {
  const wanted = hash ? document.getElementById(decodeURIComponent(hash.slice(1))) : null;
  if (!wanted || !sheet.contains(wanted)) return;
  const cell = cellNamed(wanted);
  if (!cell) return;
  uncover(cell);
  focusCell(cell);
}

function cellNamed(wanted) {
  const { current } = focus;
  if (wanted.matches("td.cell")) return wanted;
  if (wanted.matches("tr")) {
    return cellAt(wanted, isScore(current) ? current.cellIndex : sheet.querySelector("td.cell").cellIndex);
  }
  const row = current && !current.parentElement.hidden ? current.parentElement : shownRows()[0];
  return cellAt(row, wanted.cellIndex);
}
