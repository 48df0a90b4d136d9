/* Typing into cells, and blocks that are copied, pasted, cleared and filled. Scores are read by the server alone. */

import { change, describe, letGo } from "./cells.js";
import { block } from "./focus.js";
import { isScore, laidOut } from "./layout.js";
import { doubtful, lookAt } from "./pasting.js";
import { focus, say, sheet, writable } from "./state.js";

export const editing = () => Boolean(focus.current?.querySelector("input"));
/* Typed over a score at rest: arrows go on to the next cell; after F2 they move within the score. */
export const entering = () => Boolean(focus.current?.querySelector("input[data-entering]"));

export function edit(text) {
  const { current } = focus;
  if (!writable || !isScore(current)) return;
  const input = document.createElement("input");
  const before = current.classList.contains("refused") ? current.dataset.typed : current.textContent;
  input.value = text ?? before;
  describe(current);
  input.setAttribute("aria-label", current.getAttribute("aria-label"));
  current.dataset.before = current.textContent;
  current.classList.add("editing");
  current.replaceChildren(input);
  input.focus();
  if (text !== null && text !== undefined) input.dataset.entering = "";
}

export function commit() {
  const { current } = focus;
  const input = current?.querySelector("input");
  if (!input) return;
  const typed = input.value.trim();
  const { before } = current.dataset;
  const unkept = current.classList.contains("refused") || current.classList.contains("conflict");
  current.classList.remove("editing");
  current.textContent = before;
  if (typed !== before || unkept) change([[current, typed]]);
}

export function restore() {
  const { current } = focus;
  const input = current?.querySelector("input");
  current?.classList.remove("editing");
  if (input) current.textContent = current.dataset.before;
  else if (current?.matches(".refused, .conflict")) letGo(current);
  current.focus();
}

const resting = () => isScore(focus.current) && !editing() && sheet.contains(document.activeElement);

export function copy(event) {
  if (!resting()) return;
  event.preventDefault();
  const rows = block().map((row) => row.map((cell) => cell.textContent.trim()).join("\t"));
  event.clipboardData.setData("text/plain", rows.join("\n"));
  say(`${block().flat().length} cells copied.`);
  if (event.type === "cut" && writable) clear();
}

export function paste(event) {
  if (!writable || !resting()) return;
  event.preventDefault();
  const rows = valuesOf(event.clipboardData.getData("text/plain"));
  const target = block();
  const one = rows.length === 1 && rows[0].length === 1;
  if (doubtful(rows, target[0][0])) return void lookAt(rows, target[0][0]);
  const pairs = one ? target.flat().map((cell) => [cell, rows[0][0]]) : repeated(rows, target);
  if (pairs.length) change(pairs, `${pairs.length} cells pasted`);
  say(`${pairs.length} cells pasted.`);
}

/* One row over a block of several goes into each of them. */
function repeated(rows, target) {
  const over = rows.length === 1 && target.length > 1 ? target.map(() => rows[0]) : rows;
  return laidOut(over, target[0][0]).pairs;
}

function valuesOf(text) {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");
  return lines.map((line) => line.split("\t").map((value) => value.trim().replace(/^"(.*)"$/, "$1")));
}

export function clear() {
  const found = block().flat().filter((cell) => cell.textContent || cell.classList.contains("refused"));
  if (!found.length) return;
  const many = found.length > 1 ? `${found.length} cells cleared` : "";
  say(many ? `${many}.` : `${found[0].textContent} cleared.`);
  change(found.map((cell) => [cell, ""]), many);
}

export function fillDown() {
  const [first, ...others] = block();
  const found = others.flatMap((row) => row.map((cell, across) => [cell, first[across].textContent.trim()]));
  if (found.length) change(found, `${found.length} cells filled down`);
}
