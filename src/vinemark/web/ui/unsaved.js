/* The one place that knows what is not saved yet, whatever it is and wherever it was typed. */

import { section } from "./http.js";
import { get, names } from "./sealed.js";
import * as typed from "./typed.js";

const sources = [];
let onTheirWay = 0;
let trouble = "";

const bar = () => document.getElementById("saved");

/* A part of a page that keeps what was typed itself: how many, why they wait, and how many of them were refused. */
export function register(source) {
  sources.push(source);
  show();
}

export function goesOut() {
  onTheirWay += 1;
  show();
}

export function cameBack(why = "") {
  onTheirWay -= 1;
  trouble = why;
  show();
}

/* An act that leaves the page could not go out. */
export function noAnswer(why) {
  trouble = why;
  show();
}

export const busy = () => onTheirWay > 0 || sources.some((source) => source.waiting() > 0);

export const here = () => typed.count() + sources.reduce((sum, source) => sum + source.waiting() + source.refused(), 0);

/* What the parts of this page hold, in words, each with the way to it. */
export const listed = () => sources.flatMap((source) => source.list());

/* Whether all of it would be there again if this page closed now. */
export const keptHere = () => typed.keptHere() && sources.every((source) => source.keptHere());

/* What other pages of this person left or hold in this browser: of this section, or of all of them on the Desk. */
export function elsewhere() {
  const mine = (name) => typed.isOwn(name) || sources.some((source) => source.isOwn(name));
  const found = [];
  for (const name of names()) {
    const [of, sort] = name.split(" ");
    if (mine(name) || (section && of !== section)) continue;
    const kept = get(name);
    if (!kept) continue;
    const number = sort === "cells" ? cellsOf(kept) : Object.keys(kept.fields).length;
    if (number) found.push({ name, sort, section: of, number, ...kept });
  }
  return found;
}

export function cellsOf(kept) {
  const cells = kept.queue.reduce((sum, change) => sum + change.cells.length + (change.remark ? 1 : 0), 0);
  return cells + kept.refused.length;
}

function words() {
  const refused = sources.reduce((sum, source) => sum + source.refused(), 0);
  const left = here();
  const why = sources.map((source) => source.trouble()).find(Boolean) || trouble;
  if (left && left === refused) return `${refused} refused, the rest saved`;
  if (left) return `${left} not saved yet${why ? `: ${why}` : ""}`;
  if (onTheirWay) return "Saving …";
  const others = elsewhere();
  const sum = others.reduce((all, one) => all + one.number, 0);
  if (sum) return `${sum} not saved yet, typed on ${[...new Set(others.map((one) => one.where))].join(" and ")}`;
  if (why) return `Not saved: ${why}`;
  /* Each part of the page takes its own away once it runs: until then nothing is promised. */
  if (document.querySelector(".scripts-missing")) return "";
  return bar()?.dataset.at ? `All changes saved · ${bar().dataset.at}` : "";
}

export function show() {
  const line = bar();
  if (!line) return;
  const said = words();
  const wrong = Boolean(trouble) || sources.some((source) => source.refused() > 0);
  /* Heard where something is wrong; that each cell was saved is only seen. */
  line.setAttribute("aria-live", wrong ? "polite" : "off");
  if (line.textContent !== said) line.textContent = said;
  const left = here() > 0 || elsewhere().length > 0;
  line.classList.toggle("refused", wrong);
  line.classList.toggle("waiting", busy() || left);
  const open = document.getElementById("open-unsaved");
  if (open) open.hidden = !left;
  document.dispatchEvent(new Event("unsaved:shown"));
}

export function savedAt(at) {
  if (at && bar()) bar().dataset.at = at;
}

window.addEventListener("storage", show);
document.addEventListener("htmx:afterSettle", show);
