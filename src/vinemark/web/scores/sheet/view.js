/* What the sheet shows: folded categories, rows by what they hold, density, names. Kept in this browser. */

import { uncoverColumn } from "./columns.js";
import { changed } from "./layout.js";
import { sheet } from "./state.js";

const folded = new Set();
const rules = new CSSStyleSheet();
const key = `vine-mark-folds ${location.pathname}`;
const rowsBy = document.getElementById("show-rows");
const category = document.getElementById("show-category");
const count = document.getElementById("shown-count");
let tell = () => {};

const HOLDS = { blank: ".waiting, .zero, .planned", missing: ".missing", remark: ".remarked", refused: ".refused" };

function showFolds() {
  rules.replaceSync([...folded].map((place) => `#sheet .k${place} { display: none; }`).join("\n"));
  for (const band of sheet.querySelectorAll("[data-band]")) {
    const shut = folded.has(band.dataset.band);
    band.dataset.span ??= band.colSpan;
    band.colSpan = shut ? 1 : Number(band.dataset.span);
    band.classList.toggle("folded", shut);
    const button = band.querySelector(".fold");
    button.setAttribute("aria-expanded", String(!shut));
    button.textContent = shut ? "▸" : "▾";
  }
  changed();
}

function fold(place, shut = !folded.has(place)) {
  shut ? folded.add(place) : folded.delete(place);
  localStorage.setItem(key, JSON.stringify([...folded]));
  showFolds();
  tell();
}

/* A cell that is to be shown must not be in a folded category or a filtered row. */
export function uncover(cell) {
  const place = [...cell.classList].find((name) => /^k\d+$/.test(name))?.slice(1);
  if (place && folded.has(place)) fold(place, false);
  uncoverColumn(cell);
  if (cell.closest("tr").hidden) { rowsBy.value = ""; showRows(); }
}

function holds(row) {
  const within = category.value === "" ? "" : `.k${category.value}`;
  if (rowsBy.value === "near") return row.dataset.near === "yes";
  const [kind, ...rest] = rowsBy.value.split(" ");
  const what = rest.join(" ");
  if (kind === "letter") return row.querySelector("[data-figure='so-far-letter']").textContent.trim() === what;
  if (kind === "none") return !row.querySelector(`[data-item="${CSS.escape(what)}"]`).textContent;
  const wanted = HOLDS[rowsBy.value].split(", ").map((name) => `.cell${within}${name}`).join(", ");
  return [...row.querySelectorAll(wanted)].some((cell) => rowsBy.value !== "blank" || !cell.textContent);
}

function showRows() {
  const all = [...sheet.tBodies[0].rows];
  for (const row of all) row.hidden = rowsBy.value !== "" && !holds(row);
  const shown = all.filter((row) => !row.hidden).length;
  count.textContent = shown === all.length ? "" : `${shown} of ${all.length} shown`;
  changed();
  tell();
}

function showCategory() {
  const places = [...sheet.querySelectorAll("[data-band]")].map((band) => band.dataset.band);
  for (const place of places) {
    const others = category.value !== "" && place !== category.value;
    others ? folded.add(place) : folded.delete(place);
  }
  showFolds();
  showRows();
}

/* The server reads these, so that a projected page never shows a name for a moment. */
function remember(name, value) {
  document.cookie = `${name}=${value}; path=/; samesite=lax; max-age=31536000`;
}

export const namesHidden = () => document.body.classList.contains("names-hidden");

export function start(onChange) {
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, rules];
  try { for (const place of JSON.parse(localStorage.getItem(key) ?? "[]")) folded.add(place); } catch { /* not ours */ }
  const bands = new Set([...sheet.querySelectorAll("[data-band]")].map((band) => band.dataset.band));
  for (const place of folded) if (!bands.has(place)) folded.delete(place);
  showFolds();
  tell = onChange;
  sheet.tHead.addEventListener("click", (event) => {
    const button = event.target.closest("[data-fold]");
    if (button) fold(button.dataset.fold);
  });
  rowsBy.addEventListener("change", showRows);
  category.addEventListener("change", showCategory);
  document.getElementById("dense").addEventListener("change", (event) => {
    sheet.classList.toggle("compact", event.target.checked);
    remember("vinemark-density", event.target.checked ? "compact" : "");
    tell();
  });
  document.getElementById("hide-names").addEventListener("change", (event) => {
    document.body.classList.toggle("names-hidden", event.target.checked);
    remember("vinemark-names", event.target.checked ? "hidden" : "");
  });
}
