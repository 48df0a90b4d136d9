/* The score sheet: keyboard, blocks, undo, and what others change meanwhile. Scores are read and refused by the server alone. */

import { block as blockOf, cellAt, cellOf, firstCell, following, headingOf, isScore, laidOut, neighbour, sheet, shownRows, studentOf } from "./layout.js";
import { enqueue as send, pending as onItsWay, post, rebase, start, waiting } from "./queue.js";
import { namesHidden, start as startView, uncover } from "./view.js";
import { bring, measure, start as startWindow } from "./window.js";

const kept = document.getElementById("kept");
const said = document.getElementById("sheet-said");
const margin = document.getElementById("margin");
const writable = sheet?.dataset.writable === "yes";
const pending = (cell) => onItsWay(studentOf(cell), cell.dataset.item);

/* --- what was typed, and what came of it -------------------------------------------------------- */

function change(found, what) {
  const sent = found.map(([cell, typed]) => ({ student: studentOf(cell), item: cell.dataset.item, typed, was: keptText(cell) }));
  for (const [cell, typed] of found) showSending(cell, typed);
  send(sent, what);
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

function answered(change, { rows, feet, refused, conflicts, remark, entry, kept_at: at }) {
  const read = readRows(rows);
  const same = (one) => (other) => other.student === one.student && other.item === one.item;
  for (const one of change.cells) {
    const cell = cellOf(one);
    if (cell && pending(cell) && !refused.some(same(one)) && !conflicts.some(same(one))) {
      cell.dataset.kept = textIn(read, one);
      rebase(one, cell.dataset.kept);
    }
    if (!cell || pending(cell)) continue;
    cell.classList.remove("sending", "refused", "conflict");
    delete cell.dataset.typed;
    if (!refused.some(same(one))) delete cell.dataset.kept;
  }
  for (const one of refused) refuse(one, change);
  showRows(read, feet);
  for (const one of conflicts) conflict(one, change);
  if (entry) { undone.length = 0; done.push(entry); keepUndo(); }
  keptAt = at ?? keptAt;
  if (!refused.length && !conflicts.length) said.textContent = remark && change.cells.length ? `${change.cells[0].typed} is kept; it is ${remark}.` : "";
  soon("standing", () => htmx.ajax("GET", sheet.dataset.standing, { target: "#rail", swap: "none" }), 600);
}

function readRows(rows) {
  const html = Object.values(rows).join("");
  return new DOMParser().parseFromString(`<table><tbody>${html}</tbody></table>`, "text/html");
}

const textIn = (read, { student, item }) => read.getElementById(`cell-${student}-${item}`)?.textContent ?? "";

const typedIn = (change, { student, item }) => change.cells.find((cell) => cell.student === student && cell.item === item)?.typed ?? "";

function refuse(one, change) {
  const cell = cellOf(one);
  if (!cell || pending(cell)) return;
  const typed = typedIn(change, one);
  cell.classList.add("refused");
  cell.setAttribute("aria-invalid", "true");
  cell.title = one.reason;
  cell.dataset.typed = typed;
  if (!cell.querySelector("input")) cell.textContent = typed;
  said.textContent = `“${typed}” is not kept: it ${one.reason}.`;
}

/* The later of two people sees what was there; typing again replaces it. */
function conflict(one, change) {
  const cell = cellOf(one);
  if (!cell || pending(cell)) return;
  cell.classList.add("conflict");
  cell.title = `${one.by} entered ${one.now || "a blank"} meanwhile; you typed ${typedIn(change, one) || "a blank"}`;
  said.textContent = `Not kept: ${cell.title}. Type again to replace it.`;
}

function showRows(read, feet) {
  for (const now of read.querySelectorAll("tbody tr")) {
    const { student } = now.dataset;
    const old = document.getElementById(`row-${student}`);
    if (!old) continue;
    for (const cell of now.querySelectorAll("td.cell")) refresh(old.querySelector(`[data-item="${CSS.escape(cell.dataset.item)}"]`), cell);
    for (const figure of now.querySelectorAll("[data-figure]")) {
      old.querySelector(`[data-figure="${figure.dataset.figure}"]`).textContent = figure.textContent;
    }
    now.dataset.near ? (old.dataset.near = "yes") : delete old.dataset.near;
    if (current && studentOf(current) === student) showWorking(current, true);
  }
  for (const [item, foot] of Object.entries(feet)) showFoot(item, foot);
}

function refresh(cell, now) {
  if (!cell || pending(cell) || cell.querySelector("input") || cell.classList.contains("refused")) return;
  const picked = cell.classList.contains("picked");
  cell.className = now.className;
  cell.classList.toggle("picked", picked);
  cell.textContent = now.textContent;
  delete cell.dataset.kept;
  now.title ? (cell.title = now.title) : cell.removeAttribute("title");
  now.dataset.remark ? (cell.dataset.remark = now.dataset.remark) : delete cell.dataset.remark;
  if (cell === current) describe(cell);
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
  if (release && foot.release) { release.textContent = foot.release; release.classList.toggle("open", foot.release === "open"); }
}

let keptAt = "";

function showKept(trouble) {
  const refused = sheet.querySelectorAll(".cell.refused").length;
  const left = waiting();
  kept.classList.toggle("waiting", left > 0);
  kept.classList.toggle("refused", !left && refused > 0);
  if (left) kept.textContent = `${left} not kept yet${trouble ? `: ${trouble}` : ""}`;
  else if (refused) kept.textContent = `${refused} refused, the rest kept`;
  else if (keptAt) kept.textContent = `All changes kept · ${keptAt}`;
}

/* After a reload the cells that were still waiting show what was typed into them. */
function restored(queue) {
  for (const change of queue) {
    for (const one of change.cells) { const cell = cellOf(one); if (cell) showSending(cell, one.typed); }
  }
  said.textContent = "Cells that were not kept yet are sent again.";
}

window.addEventListener("pagehide", () => commit());

/* --- undo and redo ------------------------------------------------------------------------------ */

/* The session's own acts, kept in the tab so that a reload does not forget them. */
const undoKey = `vine-mark-undo ${location.pathname}`;
const { done = [], undone = [] } = JSON.parse(sessionStorage.getItem(undoKey) ?? "{}");

function keepUndo() {
  sessionStorage.setItem(undoKey, JSON.stringify({ done: done.slice(-500), undone: undone.slice(-500) }));
}

async function takeBack(from, to, word) {
  if (waiting()) { said.textContent = "Wait until all is kept."; return; }
  const entry = from.pop();
  if (!entry) { said.textContent = `Nothing to ${word}.`; return; }
  const answer = await post(sheet.dataset.undo, { entry });
  if (!answer.body) { said.textContent = answer.refused ?? `Not done: ${answer.again}.`; if (answer.again) from.push(entry); keepUndo(); return; }
  to.push(answer.body.entry);
  keepUndo();
  showRows(readRows(answer.body.rows), answer.body.feet);
  keptAt = answer.body.kept_at;
  showKept();
  const what = namesHidden() ? "one change" : answer.body.what.replace(/^(undone: )+/, "");
  said.textContent = `${word === "undo" ? "Undone" : "Done again"}: ${what}.`;
}

/* --- what others change meanwhile --------------------------------------------------------------- */

let last = Number(sheet?.dataset.last ?? 0);

async function lookAround() {
  if (document.hidden || !navigator.onLine) return;
  try {
    const response = await fetch(sheet.dataset.since.replace("AFTER", last));
    if (!response.ok) return;
    const news = await response.json();
    showRows(readRows(news.rows), news.feet);
    last = news.last;
    if (news.plan_changed) said.textContent = "The plan changed meanwhile: load the page again to see its grades.";
  } catch { /* no connection: the next look will tell */ }
}

/* --- blocks ------------------------------------------------------------------------------------- */

let anchor = null;

const block = () => blockOf(anchor ?? current, current);

function showBlock() {
  for (const cell of sheet.querySelectorAll(".picked")) { cell.classList.remove("picked"); cell.removeAttribute("aria-selected"); }
  if (!anchor || anchor === current) return;
  for (const cell of block().flat()) { cell.classList.add("picked"); cell.setAttribute("aria-selected", "true"); }
}

function copy(event) {
  if (!isScore(current) || current.querySelector("input") || !sheet.contains(document.activeElement)) return;
  event.preventDefault();
  event.clipboardData.setData("text/plain", block().map((row) => row.map((cell) => cell.textContent.trim()).join("\t")).join("\n"));
  said.textContent = `${block().flat().length} cells copied.`;
  if (event.type === "cut" && writable) clear();
}

function paste(event) {
  if (!writable || !isScore(current) || current.querySelector("input") || !sheet.contains(document.activeElement)) return;
  event.preventDefault();
  const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").replace(/\n$/, "");
  const rows = text.split("\n").map((line) => line.split("\t").map((value) => value.trim().replace(/^"(.*)"$/, "$1")));
  const target = block();
  const one = rows.length === 1 && rows[0].length === 1;
  const { pairs, outside } = one ? { pairs: target.flat().map((cell) => [cell, rows[0][0]]), outside: 0 } : laidOut(rows, target[0][0]);
  if (pairs.length) change(pairs, `${pairs.length} cells pasted`);
  said.textContent = `${pairs.length} cells pasted${outside ? `; ${outside} more would fall outside the sheet and were left out` : ""}.`;
}

function clear() {
  const found = block().flat().filter((cell) => cell.textContent || cell.classList.contains("refused"));
  if (found.length) change(found.map((cell) => [cell, ""]), found.length > 1 ? `${found.length} cells cleared` : "");
}

function fillDown() {
  const [first, ...others] = block();
  const found = others.flatMap((row) => row.map((cell, across) => [cell, first[across].textContent.trim()]));
  if (found.length) change(found, `${found.length} cells filled down`);
}

/* --- focus, moving, editing --------------------------------------------------------------------- */

let current = null;
let shown = null;
const timers = {};

function soon(name, run, delay) {
  clearTimeout(timers[name]);
  timers[name] = setTimeout(run, delay);
}

/* A cell that was pointed at is in sight: scrolling it under the pointer would choose its neighbour. */
function focusCell(cell, extend = false, pointed = false) {
  if (!cell) return;
  if (!extend) anchor = null;
  else anchor ??= current;
  if (current && current !== cell) current.tabIndex = -1;
  current = cell;
  cell.tabIndex = 0;
  describe(cell);
  bring(cell.parentElement);
  cell.focus({ preventScroll: true });
  if (!pointed) reveal(cell);
  showBlock();
  said.textContent = cell.classList.contains("refused") ? `“${cell.dataset.typed}” is not kept: it ${cell.title}.` : "";
  showWorking(cell);
}

/* What a screen reader hears: student, item, value, state. */
function describe(cell) {
  const row = cell.parentElement;
  const who = namesHidden() ? `row ${row.sectionRowIndex + 1}` : row.cells[0].textContent.trim();
  if (!isScore(cell)) { cell.setAttribute("aria-label", `${who}, ${figureName(cell)}, ${cell.textContent.trim()}, worked out`); return; }
  const item = headingOf(cell).querySelector("[data-name]").dataset.name;
  const state = [cell.title, cell.dataset.remark ? `remark: ${cell.dataset.remark}` : ""].filter(Boolean).join(", ");
  cell.setAttribute("aria-label", `${who}, ${item}, ${cell.textContent.trim() || "blank"}${state ? `, ${state}` : ""}`);
}

function figureName(cell) {
  const band = sheet.querySelector(`[data-band="${cell.dataset.figure}"] .fold`);
  if (band) return `${band.title} percent`;
  return { "so-far": "so far", zero: "blanks as 0", full: "blanks in full" }[cell.dataset.figure.replace("-letter", "")];
}

/* The frozen names and headings must not cover the cell that has the focus. */
function reveal(cell) {
  const box = sheet.parentElement;
  const place = cell.getBoundingClientRect();
  const frame = box.getBoundingClientRect();
  const left = frame.left + sheet.querySelector("tbody .name").offsetWidth;
  const top = frame.top + sheet.tHead.offsetHeight;
  if (place.left < left) box.scrollLeft -= left - place.left;
  if (place.right > frame.right - 16) box.scrollLeft += place.right - frame.right + 16;
  if (place.top < top) box.scrollTop -= top - place.top;
  if (place.bottom > frame.bottom - 16) box.scrollTop += place.bottom - frame.bottom + 16;
}

/* The margin of the cell that has the focus; what is being written in the margin is left alone. */
function showWorking(cell, again = false) {
  const place = `${studentOf(cell)} ${cell.dataset.item ?? ""}`;
  if ((shown === place && !again) || margin.contains(document.activeElement)) return;
  shown = place;
  const address = sheet.dataset.working.replace("STUDENT", encodeURIComponent(studentOf(cell)));
  soon("working", () => htmx.ajax("GET", `${address}?item=${encodeURIComponent(cell.dataset.item ?? "")}`, { target: "#margin", swap: "innerHTML" }), 140);
}

function move(down, across, extend = false, scoresOnly = false) {
  if (down < 0 && !extend && current.parentElement === shownRows()[0] && isScore(current)) return void headingOf(current).querySelector("button").focus();
  focusCell(neighbour(current, down, across, extend || scoresOnly), extend);
}

/* Tab at the end of a row goes on with the next one; past the last cell it leaves the sheet. */
function tab(event) {
  const next = following(current, event.shiftKey ? -1 : 1);
  if (!next) return;
  event.preventDefault();
  focusCell(next);
}

function edit(text) {
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

function commit() {
  const input = current?.querySelector("input");
  if (!input) return;
  const typed = input.value.trim();
  const before = current.dataset.before;
  current.classList.remove("editing");
  current.textContent = before;
  if (typed !== before || current.classList.contains("refused") || current.classList.contains("conflict")) change([[current, typed]]);
}

function restore() {
  const input = current?.querySelector("input");
  current?.classList.remove("editing");
  if (input) current.textContent = current.dataset.before;
  else if (current?.classList.contains("refused")) letGo(current);
  current.focus();
}

/* Escape on a refused cell gives up what was typed and shows what is kept. */
function letGo(cell) {
  cell.classList.remove("refused");
  cell.removeAttribute("aria-invalid");
  cell.removeAttribute("title");
  cell.textContent = cell.dataset.kept ?? "";
  delete cell.dataset.typed;
  said.textContent = "";
  showKept();
}

function remember(cell) {
  if (!cell.classList.contains("refused") && !pending(cell)) cell.dataset.kept = cell.textContent;
}

const moves = {
  ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1],
  PageUp: [-15, 0], PageDown: [15, 0],
};

function onKey(event) {
  if (!current || event.altKey || !event.target.closest("tbody td")) return;
  const editing = Boolean(current.querySelector("input"));
  bring(current.parentElement);
  if (event.key === "Enter") { event.preventDefault(); commit(); return void focusCell(neighbour(current, event.shiftKey ? -1 : 1, 0, true)); }
  if (event.key === "Tab") { commit(); return void tab(event); }
  if (event.key === "Escape") { event.preventDefault(); return void restore(); }
  if (editing) {
    if (event.key === "ArrowUp" || event.key === "ArrowDown") { event.preventDefault(); commit(); move(...moves[event.key], false, true); }
    return;
  }
  whileResting(event);
}

function whileResting(event) {
  const ctrl = event.ctrlKey || event.metaKey;
  if (event.key === "Home" || event.key === "End") {
    event.preventDefault();
    const far = event.key === "Home" ? -9999 : 9999;
    return void focusCell(neighbour(current, ctrl ? far : 0, far, event.shiftKey), event.shiftKey);
  }
  if (moves[event.key]) {
    event.preventDefault();
    const [down, across] = moves[event.key];
    if (ctrl) return void focusCell(neighbour(current, down * 9999, across * 9999, event.shiftKey), event.shiftKey);
    return void move(down, across, event.shiftKey);
  }
  if (event.key === "/") return;
  if (event.key === "F2" && event.shiftKey) { event.preventDefault(); return void toRemark(); }
  if (event.key === "?") { event.preventDefault(); return void document.getElementById("sheet-help").showModal(); }
  if (!writable) return;
  if (!isScore(current) && !ctrl) { if (event.key.length === 1 || event.key === "F2") said.textContent = "This figure is worked out; it cannot be typed."; return; }
  if (ctrl) return void withControl(event);
  if (event.key === "F2") { event.preventDefault(); remember(current); edit(); }
  else if (event.key === "Delete" || event.key === "Backspace") { event.preventDefault(); clear(); }
  else if (event.key.length === 1) { event.preventDefault(); remember(current); edit(event.key === " " ? "" : event.key); }
}

function withControl(event) {
  const key = event.key.toLowerCase();
  if (key === "z" && !event.shiftKey) takeBack(done, undone, "undo");
  else if (key === "y" || (key === "z" && event.shiftKey)) takeBack(undone, done, "redo");
  else if (key === "d" && isScore(current)) fillDown();
  else return;
  event.preventDefault();
}

/* --- remarks ------------------------------------------------------------------------------------ */

const remarkField = () => document.getElementById("cell-remark");

function toRemark() {
  const panel = document.getElementById("cell-panel");
  if (isScore(current) && panel?.dataset.student === studentOf(current) && panel.dataset.item === current.dataset.item) remarkField().select();
  else if (isScore(current)) setTimeout(() => { if (document.activeElement === current) toRemark(); }, 100);
}

function keepRemark(field) {
  const { student, item } = document.getElementById("cell-panel").dataset;
  if (field.value.trim() === field.defaultValue.trim()) return;
  field.defaultValue = field.value;
  send([], "", { student, item, text: field.value });
}

function onMargin(event) {
  if (event.target.id !== "cell-remark") return;
  if (event.type === "change") return void keepRemark(event.target);
  if (event.key !== "Enter" && event.key !== "Escape") return;
  event.preventDefault();
  if (event.key === "Escape") event.target.value = event.target.defaultValue;
  else keepRemark(event.target);
  current?.focus();
}

/* --- headings and places to go to --------------------------------------------------------------- */

function onHeading(event) {
  const button = event.target.closest("[data-heading]");
  if (!button) return;
  const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (event.key === "ArrowDown") { event.preventDefault(); return void focusCell(shownRows()[0]?.cells[button.closest("th").cellIndex]); }
  if (!across) return;
  event.preventDefault();
  const all = [...sheet.querySelectorAll("[data-heading]")].filter((one) => one.offsetParent);
  all[all.indexOf(button) + across]?.focus();
}

/* #cell-…, #row-… and #item-… name a place; a student keeps the column, an item keeps the row. */
function goTo(hash) {
  const wanted = hash ? document.getElementById(decodeURIComponent(hash.slice(1))) : null;
  if (!wanted || !sheet.contains(wanted)) return false;
  const column = isScore(current) ? current.cellIndex : sheet.querySelector("td.cell").cellIndex;
  const row = current && !current.parentElement.hidden ? current.parentElement : shownRows()[0];
  const cell = wanted.matches("td.cell") ? wanted : wanted.matches("tr") ? cellAt(wanted, column) : cellAt(row, wanted.cellIndex);
  if (!cell) return false;
  uncover(cell);
  focusCell(cell);
  return true;
}

let dragging = false;

if (sheet) {
  keptAt = kept.textContent.split(" · ")[1] ?? "";
  sheet.addEventListener("keydown", onKey);
  sheet.addEventListener("mousedown", (event) => {
    const cell = event.target.closest("tbody td");
    if (!cell || event.target.tagName === "INPUT") return;
    event.preventDefault();
    if (cell !== current) commit();
    focusCell(cell, event.shiftKey, true);
    dragging = !event.shiftKey;
  });
  sheet.addEventListener("mouseover", (event) => {
    const cell = dragging && event.buttons === 1 && isScore(current) ? event.target.closest("td.cell") : null;
    if (cell && cell !== current) focusCell(cell, true, true);
  });
  document.addEventListener("mouseup", () => { dragging = false; });
  for (const [kind, run] of [["copy", copy], ["cut", copy], ["paste", paste]]) document.addEventListener(kind, run);
  sheet.addEventListener("dblclick", (event) => { if (event.target.closest("td.cell")) { remember(current); edit(); } });
  sheet.addEventListener("click", (event) => { if (event.target.closest("button.item-name")) shown = null; });
  sheet.addEventListener("focusin", (event) => {
    if (event.target.matches("td.cell") && event.target !== current) focusCell(event.target);
  });
  sheet.addEventListener("focusout", (event) => {
    if (event.target.tagName === "INPUT" && !event.target.closest("td").contains(event.relatedTarget)) {
      setTimeout(() => { if (event.target.isConnected) commit(); }, 0);
    }
  });
  startWindow();
  startView(() => { measure(); if (current && (current.parentElement.hidden || getComputedStyle(current).display === "none")) { commit(); current.tabIndex = -1; const next = firstCell(); if (next) { next.tabIndex = 0; current = next; } } });
  const first = firstCell();
  if (first) { first.tabIndex = 0; current = first; describe(first); }
  goTo(location.hash);
  window.addEventListener("hashchange", () => goTo(location.hash));
  sheet.tHead.addEventListener("keydown", onHeading);
  margin.addEventListener("keydown", onMargin);
  margin.addEventListener("change", onMargin);
  document.getElementById("show-help").addEventListener("click", () => document.getElementById("sheet-help").showModal());
  start({ answered, changed: showKept, restored });
  setInterval(lookAround, 4000);
}
