/* What every page needs beside htmx: nothing typed is lost, answers in order, small comforts. */

import "./resend.js";
import "./leaving.js";
import "./unsaved_list.js";
import "./margin.js";
import "./newer.js";
import "./print.js";
import "./roving.js";
import * as typed from "./typed.js";
import { show } from "./unsaved.js";

/* A morph must not overwrite what somebody is typing while an answer comes in; a focused button gets its new words. */
document.addEventListener("htmx:beforeSwap", () => {
  Idiomorph.defaults.ignoreActiveValue = document.activeElement.matches("input, textarea, select");
});

/* A menu that was opened while an answer was on its way stays open when the answer comes. */
const OPEN = ".dropdown-menu.show, [data-bs-toggle='dropdown'][aria-expanded='true']";
const OPENED_BY = new Set(["class", "style", "aria-expanded", "data-bs-popper", "data-popper-placement"]);
/* A panel that is open stays open: only the server's word that something in it was refused opens one. */
const openedByHand = (name, node, change) => name === "open" && node.tagName === "DETAILS" && change === "remove";
Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node, change) =>
  !(OPENED_BY.has(name) && node.matches?.(OPEN)) && !openedByHand(name, node, change);

/* Answers may overtake one another: only the latest request of a page may repaint it. */
let asked = 0;
let painted = 0;
document.addEventListener("htmx:beforeRequest", (event) => {
  event.detail.xhr.vineMarkOrder = ++asked;
});
document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target?.id !== "work") return;
  const order = event.detail.xhr.vineMarkOrder ?? 0;
  if (order < painted) event.detail.shouldSwap = false;
  painted = Math.max(painted, order);
});

/* The stem and the bar never go back to an earlier state of the section than they show. */
document.addEventListener("htmx:oobBeforeSwap", ({ detail }) => {
  const fresh = detail.fragment?.querySelector?.("[data-version]")?.dataset.version;
  if (Number(fresh) < Number(detail.target.dataset.version)) detail.shouldSwap = false;
});

/* A page that nobody looks at asks for no news. */
document.addEventListener("htmx:beforeRequest", (event) => {
  if (document.hidden && event.detail.elt.hasAttribute("data-news")) event.preventDefault();
});

/* A form that is saved on change has nothing more to do on Enter. */
document.addEventListener("submit", (event) => {
  if (event.target.hasAttribute("data-no-submit")) event.preventDefault();
  if (event.target.hasAttribute("data-once")) {
    const button = event.target.querySelector("button");
    if (button.disabled) event.preventDefault();
    setTimeout(() => { button.disabled = true; }, 0);
  }
});
window.addEventListener("pageshow", () => {
  for (const button of document.querySelectorAll("form[data-once] button")) button.disabled = false;
});

/* The focus is never thrown away: what was refused takes it; where the control that was used is gone, the next one in
   its place does, and where nothing is left of its part of the page, the work. */
let lastPlace = [];
document.addEventListener("focusin", ({ target }) => {
  const parts = [];
  for (let at = target; at && at !== document.body; at = at.parentElement) if (at.id) parts.push(at.id);
  const within = target.closest(".items, .category, .findings, .settle-table, section[id], form[id]");
  const next = within?.nextElementSibling?.id;
  lastPlace = next ? [...parts, next] : parts;
});

const focusable = (part) =>
  part.matches("input, button, select, textarea, summary, a[href]") ? part
    : part.querySelector("[aria-invalid=true], input:not([type=hidden]), button:not(:disabled), summary, a[href]");

document.addEventListener("htmx:afterSettle", (event) => {
  const target = event.detail.target;
  const refused = event.detail.xhr?.status === 422 && target?.querySelector?.("[aria-invalid=true]");
  if (refused) { refused.focus(); return; }
  if (!["work", "margin"].includes(target?.id) || document.activeElement !== document.body) return;
  (nextIn(lastPlace) ?? document.getElementById("work")).focus();
});

/* The next control in the place that was left: its parts by their ids, from the innermost on. */
function nextIn(ids) {
  const parts = ids.map((id) => document.getElementById(id)).filter((part) => part && part.id !== "work");
  return parts.map(focusable).find((one) => one?.checkVisibility());
}

/* A form that is answered by a whole page leaves its place for that page, which takes it away. */
const LEFT = "vine-mark-place";
document.addEventListener("submit", (event) => {
  if (event.defaultPrevented || event.target.hasAttribute("data-sign-out")) return;
  sessionStorage.setItem(LEFT, JSON.stringify(lastPlace));
});
const left = JSON.parse(sessionStorage.getItem(LEFT) ?? "[]");
sessionStorage.removeItem(LEFT);
const refusedField = document.querySelector("main [aria-invalid=true]");
if (document.activeElement === document.body || refusedField) (refusedField ?? nextIn(left))?.focus();
document.getElementById("scripts-missing")?.remove();
show();

/* After something was added its form is empty again, with the focus on its first field. */
document.addEventListener("htmx:afterRequest", (event) => {
  const form = event.detail.elt;
  const { status } = event.detail.xhr;
  if (status >= 400 || !form.id || !form.hasAttribute("data-clear-when-done")) return;
  const now = document.getElementById(form.id);
  if (!now) return;
  for (const field of now.querySelectorAll("input:not([type=hidden])")) {
    if (field.type === "checkbox") field.checked = false;
    else field.value = "";
  }
  now.querySelector("input:not([type=hidden])")?.focus();
});

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
  const theirs = event.target.closest("[data-leave-theirs]");
  if (theirs) {
    typed.leaveTheirs();
    theirs.closest(".conflict").remove();
  }
  const fill = event.target.closest("[data-fill]");
  if (fill) {
    const field = document.getElementById(fill.dataset.fill);
    field.value = fill.dataset.value;
    dates.add(field);
    typed.note(field);
    field.dispatchEvent(new Event("change", { bubbles: true }));
    field.focus();
  }
});

/* A form that answers with a file leaves the page as it was: it is loaded again, with what changed by it. */
document.addEventListener("submit", (event) => {
  if (event.target.hasAttribute("data-then-reload")) setTimeout(() => location.reload(), 1500);
});

/* Copy a text that stands on the page. */
document.addEventListener("click", async (event) => {
  const button = event.target.closest("[data-copy]");
  if (!button) return;
  const source = document.getElementById(button.dataset.copy);
  try {
    await navigator.clipboard.writeText(source.textContent);
  } catch {
    const range = document.createRange();
    range.selectNodeContents(source);
    getSelection().removeAllRanges();
    getSelection().addRange(range);
    document.execCommand("copy");
  }
  button.textContent = button.dataset.copied;
});

if (location.hash) {
  const place = document.getElementById(decodeURIComponent(location.hash.slice(1)));
  place?.scrollIntoView({ block: "center", inline: "center" });
  place?.querySelector("input, button, summary")?.focus({ preventScroll: true });
}

/* What comes in above it does not push the focus out of sight. */
const isSeen = (one) => {
  const box = one.getBoundingClientRect();
  return box.bottom > 0 && box.top < innerHeight;
};
let inSight = null;
document.body.addEventListener("htmx:beforeSwap", () => {
  const focus = document.activeElement;
  inSight = focus && focus !== document.body && isSeen(focus) ? focus : null;
});
document.body.addEventListener("htmx:afterSwap", () => {
  if (inSight && inSight === document.activeElement && !isSeen(inSight)) inSight.scrollIntoView({ block: "nearest" });
});

/* A date is typed part by part, each of which is a change: it is saved as a whole when its field is left. */
const dates = new Set();
document.addEventListener("change", (event) => {
  if (event.target.type !== "date" || dates.delete(event.target)) return;
  event.stopImmediatePropagation();
}, true);
function saveDate(field) {
  if (field.type !== "date" || field.value === field.defaultValue || field.validity.badInput) return;
  dates.add(field);
  field.dispatchEvent(new Event("change", { bubbles: true }));
}
document.addEventListener("focusout", (event) => saveDate(event.target));
document.addEventListener("keydown", (event) => { if (event.key === "Enter") saveDate(event.target); });

for (const kind of ["input", "change"]) document.addEventListener(kind, (event) => typed.note(event.target), true);
typed.start(show);
