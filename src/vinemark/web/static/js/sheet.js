/* The score sheet: keyboard, blocks, undo, and what others change meanwhile. Scores are read and refused by the server alone. */

import { enqueue as send, pending as onItsWay, post, sheet, start, waiting } from "./sheet-queue.js";

const kept = document.getElementById("kept");
const said = document.getElementById("sheet-said");
const writable = sheet?.dataset.writable === "yes";
const cells = () => [...sheet.querySelectorAll("tbody tr")].map((row) => [...row.querySelectorAll("td.cell")]);
const studentOf = (cell) => cell.parentElement.dataset.student;
const pending = (cell) => onItsWay(studentOf(cell), cell.dataset.item);
const cellOf = ({ student, item }) => document.getElementById(`cell-${student}-${item}`);

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
  for (const one of change.cells) {
    const cell = cellOf(one);
    if (!cell || pending(cell)) continue;
    cell.classList.remove("sending", "refused", "conflict");
    delete cell.dataset.typed;
    if (!refused.some((other) => other.student === one.student && other.item === one.item)) delete cell.dataset.kept;
  }
  for (const one of refused) refuse(one, change);
  showRows(rows, feet);
  for (const one of conflicts) conflict(one, change);
  if (entry) { undone.length = 0; done.push(entry); }
  keptAt = at ?? keptAt;
  if (!refused.length && !conflicts.length) said.textContent = remark ? `${change.cells[0].typed} is kept; it is ${remark}.` : "";
  soon("standing", () => htmx.ajax("GET", sheet.dataset.standing, { target: "#rail", swap: "none" }), 600);
}

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

function showRows(rows, feet) {
  for (const [student, html] of Object.entries(rows)) {
    const now = new DOMParser().parseFromString(`<table><tbody>${html}</tbody></table>`, "text/html").querySelector("tr");
    const old = document.getElementById(`row-${student}`);
    if (!old) continue;
    for (const cell of now.querySelectorAll("td.cell")) refresh(old.querySelector(`[data-item="${CSS.escape(cell.dataset.item)}"]`), cell);
    for (const figure of now.querySelectorAll("[data-figure]")) {
      old.querySelector(`[data-figure="${figure.dataset.figure}"]`).textContent = figure.textContent;
    }
    if (shown === student) showWorking(student, true);
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
  cell.setAttribute("aria-label", now.getAttribute("aria-label"));
  now.title ? (cell.title = now.title) : cell.removeAttribute("title");
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

const done = [];
const undone = [];

async function takeBack(from, to, word) {
  if (waiting()) { said.textContent = "Wait until all is kept."; return; }
  const entry = from.pop();
  if (!entry) { said.textContent = `Nothing to ${word}.`; return; }
  const answer = await post(sheet.dataset.undo, { entry });
  if (!answer.body) { said.textContent = answer.refused ?? `Not done: ${answer.again}.`; if (answer.again) from.push(entry); return; }
  to.push(answer.body.entry);
  showRows(answer.body.rows, answer.body.feet);
  keptAt = answer.body.kept_at;
  showKept();
  said.textContent = `${word === "undo" ? "Undone" : "Done again"}: ${answer.body.what.replace(/^(undone: )+/, "")}.`;
}

/* --- what others change meanwhile --------------------------------------------------------------- */

let last = Number(sheet?.dataset.last ?? 0);

async function lookAround() {
  if (document.hidden || !navigator.onLine) return;
  try {
    const response = await fetch(sheet.dataset.since.replace("AFTER", last));
    if (!response.ok) return;
    const news = await response.json();
    showRows(news.rows, news.feet);
    last = news.last;
    if (news.plan_changed) said.textContent = "The plan changed meanwhile: load the page again to see its grades.";
  } catch { /* no connection: the next look will tell */ }
}

/* --- blocks ------------------------------------------------------------------------------------- */

let anchor = null;

function block() {
  const all = cells();
  const place = (cell) => { const row = all.findIndex((found) => found.includes(cell)); return [row, row < 0 ? -1 : all[row].indexOf(cell)]; };
  const [r1, c1] = place(anchor ?? current);
  const [r2, c2] = place(current);
  return all.slice(Math.min(r1, r2), Math.max(r1, r2) + 1).map((row) => row.slice(Math.min(c1, c2), Math.max(c1, c2) + 1));
}

function showBlock() {
  for (const cell of sheet.querySelectorAll(".picked")) { cell.classList.remove("picked"); cell.removeAttribute("aria-selected"); }
  if (!anchor || anchor === current) return;
  for (const cell of block().flat()) { cell.classList.add("picked"); cell.setAttribute("aria-selected", "true"); }
}

function copy(event) {
  if (!current || current.querySelector("input") || !sheet.contains(document.activeElement)) return;
  event.preventDefault();
  event.clipboardData.setData("text/plain", block().map((row) => row.map((cell) => cell.textContent.trim()).join("\t")).join("\n"));
  said.textContent = `${block().flat().length} cells copied.`;
  if (event.type === "cut" && writable) clear();
}

function paste(event) {
  if (!writable || !current || current.querySelector("input") || !sheet.contains(document.activeElement)) return;
  event.preventDefault();
  const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").replace(/\n$/, "");
  const rows = text.split("\n").map((line) => line.split("\t").map((value) => value.trim().replace(/^"(.*)"$/, "$1")));
  const target = block();
  const found = rows.length === 1 && rows[0].length === 1 ? target.flat().map((cell) => [cell, rows[0][0]]) : laidOut(rows, target[0][0]);
  if (found.length) change(found, `${found.length} cells pasted`);
  said.textContent = `${found.length} cells pasted.`;
}

function laidOut(rows, first) {
  const all = cells();
  const top = all.findIndex((row) => row.includes(first));
  const left = all[top].indexOf(first);
  return rows.flatMap((row, down) => row.map((value, across) => [all[top + down]?.[left + across], value])).filter(([cell]) => cell);
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

function focusCell(cell, extend = false) {
  if (!cell) return;
  if (!extend) anchor = null;
  else anchor ??= current;
  if (current && current !== cell) current.tabIndex = -1;
  current = cell;
  cell.tabIndex = 0;
  cell.focus({ preventScroll: true });
  reveal(cell);
  showBlock();
  said.textContent = cell.classList.contains("refused") ? `“${cell.dataset.typed}” is not kept: it ${cell.title}.` : "";
  showWorking(studentOf(cell));
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

function showWorking(student, again = false) {
  if (shown === student && !again) return;
  shown = student;
  soon("working", () => htmx.ajax("GET", sheet.dataset.working.replace("STUDENT", encodeURIComponent(student)), { target: "#margin", swap: "innerHTML" }), 140);
}

function move(down, across, extend = false) {
  const all = cells();
  const row = all.findIndex((found) => found.includes(current));
  const column = all[row].indexOf(current);
  focusCell(all[clamp(row + down, all.length)][clamp(column + across, all[row].length)], extend);
}

function clamp(place, length) {
  return Math.max(0, Math.min(length - 1, place));
}

/* Tab at the end of a row goes on with the next one; past the last cell it leaves the sheet. */
function tab(event) {
  const flat = cells().flat();
  const next = flat[flat.indexOf(current) + (event.shiftKey ? -1 : 1)];
  if (!next) return;
  event.preventDefault();
  focusCell(next);
}

function edit(text) {
  if (!writable || !current) return;
  const input = document.createElement("input");
  const before = current.classList.contains("refused") ? current.dataset.typed : current.textContent;
  input.value = text ?? before;
  input.setAttribute("aria-label", current.getAttribute("aria-label"));
  current.dataset.before = current.textContent;
  current.replaceChildren(input);
  input.focus();
  if (text === null || text === undefined) input.select();
}

function commit() {
  const input = current?.querySelector("input");
  if (!input) return;
  const typed = input.value.trim();
  const before = current.dataset.before;
  current.textContent = before;
  if (typed !== before || current.classList.contains("refused") || current.classList.contains("conflict")) change([[current, typed]]);
}

function restore() {
  const input = current?.querySelector("input");
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
  if (!current || event.altKey || !event.target.closest("td.cell")) return;
  const editing = Boolean(current.querySelector("input"));
  if (event.key === "Enter") { event.preventDefault(); commit(); return void move(event.shiftKey ? -1 : 1, 0); }
  if (event.key === "Tab") { commit(); return void tab(event); }
  if (event.key === "Escape") { event.preventDefault(); return void restore(); }
  if (editing) {
    if (event.key === "ArrowUp" || event.key === "ArrowDown") { event.preventDefault(); commit(); move(...moves[event.key]); }
    return;
  }
  whileResting(event);
}

function whileResting(event) {
  const ctrl = event.ctrlKey || event.metaKey;
  if (event.key === "Home" || event.key === "End") {
    event.preventDefault();
    const far = event.key === "Home" ? -9999 : 9999;
    return void move(ctrl ? far : 0, far, event.shiftKey);
  }
  if (moves[event.key]) {
    event.preventDefault();
    const [down, across] = moves[event.key];
    return void move(ctrl ? down * 9999 : down, ctrl ? across * 9999 : across, event.shiftKey);
  }
  if (event.key === "?") { event.preventDefault(); return void document.getElementById("sheet-help").showModal(); }
  if (!writable) return;
  if (ctrl) return void withControl(event);
  if (event.key === "F2") { event.preventDefault(); remember(current); edit(); }
  else if (event.key === "Delete" || event.key === "Backspace") { event.preventDefault(); clear(); }
  else if (event.key.length === 1) { event.preventDefault(); remember(current); edit(event.key === " " ? "" : event.key); }
}

function withControl(event) {
  const key = event.key.toLowerCase();
  if (key === "z" && !event.shiftKey) takeBack(done, undone, "undo");
  else if (key === "y" || (key === "z" && event.shiftKey)) takeBack(undone, done, "redo");
  else if (key === "d") fillDown();
  else return;
  event.preventDefault();
}

let dragging = false;

if (sheet) {
  keptAt = kept.textContent.split(" · ")[1] ?? "";
  sheet.addEventListener("keydown", onKey);
  sheet.addEventListener("mousedown", (event) => {
    const cell = event.target.closest("td.cell");
    if (!cell || event.target.tagName === "INPUT") return;
    event.preventDefault();
    if (cell !== current) commit();
    focusCell(cell, event.shiftKey);
    dragging = !event.shiftKey;
  });
  sheet.addEventListener("mouseover", (event) => {
    const cell = dragging && event.buttons === 1 ? event.target.closest("td.cell") : null;
    if (cell && cell !== current) focusCell(cell, true);
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
  const wanted = location.hash ? document.getElementById(decodeURIComponent(location.hash.slice(1))) : null;
  const first = wanted?.matches("td.cell") ? wanted : wanted?.querySelector("td.cell") ?? sheet.querySelector("td.cell");
  if (first) wanted ? focusCell(first) : (first.tabIndex = 0, current = first);
  start({ answered, changed: showKept, restored });
  setInterval(lookAround, 4000);
}
