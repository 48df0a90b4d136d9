/* Columns of single items: hidden, wider or narrower, and the two figures that are shown on request. Kept in this
   browser. */

import { changed } from "./layout.js";
import { margin, sheet } from "./state.js";

const STEP = 14;
const LEAST = 34;
const MOST = 240;
const EXTRA = ["with-points", "with-plain"];
const key = `vine-mark-columns ${location.pathname}`;
const rules = new CSSStyleSheet();
const restore = document.getElementById("show-hidden");
const kept = { hidden: [], widths: {}, extra: [] };
let tell = () => {};

const heads = () => [...sheet.querySelectorAll(".item-head")];
const idOf = (head) => head.querySelector("[data-heading]").dataset.heading;

function everywhere(item, style) {
  const id = CSS.escape(item);
  const all = [`[data-item="${id}"]`, `#item-${id}`, `[data-foot-item="${id}"]`, `.band-cells [data-of="${id}"]`];
  return `${all.map((one) => `#sheet ${one}`).join(", ")} { ${style} }`;
}

function draw() {
  const widths = Object.entries(kept.widths).map(([item, wide]) => everywhere(item, `flex-basis: ${wide}px;`));
  const hidden = kept.hidden.map((item) => everywhere(item, "display: none;"));
  rules.replaceSync([...widths, ...hidden].join("\n"));
  for (const name of EXTRA) {
    const box = document.getElementById(name);
    if (!box) continue;
    box.checked = kept.extra.includes(name);
    sheet.classList.toggle(name, box.checked);
  }
  for (const box of document.querySelectorAll("[data-column]")) box.checked = !kept.hidden.includes(box.dataset.column);
  const count = kept.hidden.length;
  restore.hidden = !count;
  restore.textContent = `Show ${count} hidden column${count === 1 ? "" : "s"}`;
  document.getElementById("view-said").textContent = count ? `View: ${count} hidden` : "View";
  changed();
}

function keep() {
  localStorage.setItem(key, JSON.stringify(kept));
  draw();
  tell();
}

function show(item, shown) {
  const others = kept.hidden.filter((one) => one !== item);
  kept.hidden = shown ? others : [...others, item];
  keep();
}

/* Whether the column under a heading was left to be seen; one of a folded category was. */
export function isColumnShown(head) {
  const extra = EXTRA.find((name) => head.classList.contains(name.slice("with-".length)));
  if (extra) return sheet.classList.contains(extra);
  return !head.matches(".item-head") || !kept.hidden.includes(idOf(head));
}

/* The column of a cell that is to be shown. */
export function uncoverColumn(cell) {
  if (kept.hidden.includes(cell.dataset.item)) show(cell.dataset.item, true);
}

function widen(head, by) {
  const item = idOf(head);
  if (by) kept.widths[item] = Math.max(LEAST, Math.min(MOST, head.offsetWidth + by));
  else delete kept.widths[item];
  keep();
}

/* Plus and minus on a heading; 0 gives back the usual width. */
function onKey(event) {
  const head = event.target.closest?.(".item-head");
  const by = { "+": STEP, "=": STEP, "-": -STEP, "−": -STEP, 0: 0 }[event.key];
  if (!head || by === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  widen(head, by);
}

/* The right edge of a heading is drawn. */
function onDown(event) {
  const head = event.target.closest(".item-head");
  if (!head || event.button !== 0 || event.clientX < head.getBoundingClientRect().right - 6) return;
  event.preventDefault();
  event.stopPropagation();
  let from = event.clientX;
  const move = (now) => {
    if (now.clientX === from) return;
    widen(head, now.clientX - from);
    from = now.clientX;
  };
  const end = () => {
    document.removeEventListener("pointermove", move);
    document.removeEventListener("pointerup", end);
  };
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", end);
}

function read() {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? "{}");
    const there = new Set(heads().map(idOf));
    kept.hidden = (found.hidden ?? []).filter((item) => there.has(item));
    kept.widths = Object.fromEntries(Object.entries(found.widths ?? {}).filter(([item]) => there.has(item)));
    kept.extra = (found.extra ?? []).filter((name) => EXTRA.includes(name));
  } catch { /* not ours */ }
}

export function startColumns(onChange) {
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, rules];
  read();
  draw();
  tell = onChange;
  for (const box of document.querySelectorAll("[data-column]")) {
    box.addEventListener("change", () => show(box.dataset.column, box.checked));
  }
  for (const name of EXTRA) {
    document.getElementById(name)?.addEventListener("change", (event) => {
      kept.extra = [...kept.extra.filter((one) => one !== name), ...(event.target.checked ? [name] : [])];
      keep();
    });
  }
  restore.addEventListener("click", () => { kept.hidden = []; keep(); sheet.querySelector("[data-heading]").focus(); });
  margin.addEventListener("click", (event) => {
    const button = event.target.closest("[data-hide-column]");
    if (!button) return;
    show(button.dataset.hideColumn, false);
    document.getElementById("view-menu").focus();
  });
  sheet.tHead.addEventListener("keydown", onKey);
  sheet.tHead.addEventListener("pointerdown", onDown, true);
}
