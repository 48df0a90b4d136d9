/* The score sheet's keyboard and its queue of cells. Scores are read and refused by the server alone. */

const sheet = document.getElementById("sheet");
const kept = document.getElementById("kept");
const said = document.getElementById("sheet-said");
const csrf = document.querySelector('meta[name="csrf-token"]').content;
const writable = sheet?.dataset.writable === "yes";
const cells = () => [...sheet.querySelectorAll("tbody tr")].map((row) => [...row.querySelectorAll("td.cell")]);

/* --- the queue: one cell after the other, in order, repeated until there is an answer ---------- */

const queue = [];
let busy = false;
let pause = 1000;

function enqueue(cell, typed) {
  const key = crypto.randomUUID ? crypto.randomUUID() : String(Math.random()).slice(2);
  queue.push({ cell, typed, key, student: cell.parentElement.dataset.student, item: cell.dataset.item });
  cell.classList.add("sending");
  cell.classList.remove("refused");
  cell.removeAttribute("aria-invalid");
  cell.textContent = typed;
  showKept();
  if (!busy) sendNext();
}

async function sendNext() {
  const change = queue[0];
  if (!change) { busy = false; return; }
  busy = true;
  const answer = await post(change);
  if (answer.again) {
    showKept(answer.again);
    setTimeout(sendNext, pause);
    pause = Math.min(pause * 2, 15000);
    return;
  }
  pause = 1000;
  queue.shift();
  answer.refused ? refuse(change, answer.refused) : keep(change, answer.body);
  showKept();
  sendNext();
}

async function post({ student, item, typed, key }) {
  try {
    const response = await fetch(sheet.dataset.cell, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-CSRFToken": csrf },
      body: JSON.stringify({ student, item, typed, key }),
    });
    if (response.ok) return { body: await response.json() };
    if (response.status === 422) return { refused: (await response.json()).reason };
    if (response.status === 401 || response.status === 400) return { again: "sign in again in another tab" };
    if (response.status < 500) return { refused: "you cannot enter scores here" };
    return { again: "the server is in trouble" };
  } catch {
    return { again: "no connection" };
  }
}

function refuse({ cell, typed }, reason) {
  cell.classList.remove("sending");
  if (pending(cell)) return;
  cell.classList.add("refused");
  cell.setAttribute("aria-invalid", "true");
  cell.title = reason;
  cell.dataset.typed = typed;
  if (!cell.querySelector("input")) cell.textContent = typed;
  said.textContent = `“${typed}” is not kept: it ${reason}.`;
}

function keep(change, { row, foot, kept_at: at, remark }) {
  const now = new DOMParser().parseFromString(`<table><tbody>${row}</tbody></table>`, "text/html").querySelector("tr");
  const old = change.cell.parentElement;
  delete change.cell.dataset.typed;
  change.cell.classList.remove("sending", "refused");
  for (const cell of now.querySelectorAll("td.cell")) refresh(old.querySelector(`[data-item="${CSS.escape(cell.dataset.item)}"]`), cell);
  for (const figure of now.querySelectorAll("[data-figure]")) {
    old.querySelector(`[data-figure="${figure.dataset.figure}"]`).textContent = figure.textContent;
  }
  showFoot(change.item, foot);
  keptAt = at;
  said.textContent = remark ? `${change.typed} is kept; it is ${remark}.` : "";
  soon("standing", () => htmx.ajax("GET", sheet.dataset.standing, { target: "#rail", swap: "none" }), 600);
  if (shown === change.student) showWorking(change.student, true);
}

function refresh(cell, now) {
  if (!cell || pending(cell) || cell.querySelector("input") || cell.classList.contains("refused")) return;
  cell.className = now.className;
  cell.textContent = now.textContent;
  cell.setAttribute("aria-label", now.getAttribute("aria-label"));
  now.title ? (cell.title = now.title) : cell.removeAttribute("title");
}

function pending(cell) {
  return queue.some((change) => change.cell === cell);
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
  kept.classList.toggle("waiting", queue.length > 0);
  kept.classList.toggle("refused", !queue.length && refused > 0);
  if (queue.length) kept.textContent = `${queue.length} not kept yet${trouble ? `: ${trouble}` : ""}`;
  else if (refused) kept.textContent = `${refused} refused, the rest kept`;
  else if (keptAt) kept.textContent = `All changes kept · ${keptAt}`;
}

window.addEventListener("beforeunload", (event) => {
  commit();
  if (queue.length) event.preventDefault();
});

/* --- focus, moving, editing --------------------------------------------------------------------- */

let current = null;
let shown = null;
const timers = {};

function soon(name, run, delay) {
  clearTimeout(timers[name]);
  timers[name] = setTimeout(run, delay);
}

function focusCell(cell) {
  if (!cell) return;
  if (current && current !== cell) current.tabIndex = -1;
  current = cell;
  cell.tabIndex = 0;
  cell.focus({ preventScroll: true });
  reveal(cell);
  said.textContent = cell.classList.contains("refused") ? `“${cell.dataset.typed}” is not kept: it ${cell.title}.` : "";
  showWorking(cell.parentElement.dataset.student);
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

function move(down, across) {
  const all = cells();
  const row = all.findIndex((found) => found.includes(current));
  const column = all[row].indexOf(current);
  focusCell(all[clamp(row + down, all.length)][clamp(column + across, all[row].length)]);
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
  if (typed !== before || current.classList.contains("refused")) enqueue(current, typed);
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
  if (!current || event.altKey) return;
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
    return void move(ctrl ? far : 0, far);
  }
  if (moves[event.key]) {
    event.preventDefault();
    const [down, across] = moves[event.key];
    return void move(ctrl ? down * 9999 : down, ctrl ? across * 9999 : across);
  }
  if (!writable || ctrl) return;
  if (event.key === "F2") { event.preventDefault(); remember(current); edit(); }
  else if (event.key === "Delete" || event.key === "Backspace") { event.preventDefault(); remember(current); if (current.textContent) enqueue(current, ""); }
  else if (event.key.length === 1) { event.preventDefault(); remember(current); edit(event.key === " " ? "" : event.key); }
}

if (sheet) {
  keptAt = kept.textContent.split(" · ")[1] ?? "";
  sheet.addEventListener("keydown", onKey);
  sheet.addEventListener("mousedown", (event) => {
    const cell = event.target.closest("td.cell");
    if (!cell || event.target.tagName === "INPUT") return;
    event.preventDefault();
    if (cell !== current) commit();
    focusCell(cell);
  });
  sheet.addEventListener("dblclick", (event) => { if (event.target.closest("td.cell")) { remember(current); edit(); } });
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
}
