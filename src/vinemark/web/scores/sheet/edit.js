/* Typing into cells, and blocks that are copied, pasted, cleared and filled. Scores are read by the server alone. */

import { change, describe, letGo } from "./cells.js";
import { block } from "./focus.js";
import { isScore, laidOut } from "./layout.js";
import { focus, say, sheet, writable } from "./state.js";

export const editing = () => Boolean(focus.current?.querySelector("input"));

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
  if (text === null || text === undefined) input.select();
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
  const everywhere = () => ({ pairs: target.flat().map((cell) => [cell, rows[0][0]]), outside: 0 });
  const { pairs, outside } = one ? everywhere() : laidOut(rows, target[0][0]);
  if (pairs.length) change(pairs, `${pairs.length} cells pasted`);
  const left = outside ? `; ${outside} more would fall outside the sheet and were left out` : "";
  say(`${pairs.length} cells pasted${left}.`);
}

function valuesOf(text) {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");
  return lines.map((line) => line.split("\t").map((value) => value.trim().replace(/^"(.*)"$/, "$1")));
}

export function clear() {
  const found = block().flat().filter((cell) => cell.textContent || cell.classList.contains("refused"));
  if (found.length) change(found.map((cell) => [cell, ""]), found.length > 1 ? `${found.length} cells cleared` : "");
}

export function fillDown() {
  const [first, ...others] = block();
  const found = others.flatMap((row) => row.map((cell, across) => [cell, first[across].textContent.trim()]));
  if (found.length) change(found, `${found.length} cells filled down`);
}
