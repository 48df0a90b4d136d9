/* Fields that were typed into and are not saved yet: they outlast every answer, every page and the session. */

import { all, find, held, labelOf, nameOf, put, reasonOf, saveAs, saved, saves } from "./fields.js";
import { markOf as marked, page, section } from "./http.js";
import { get, names, put as seal, remove } from "./sealed.js";
import { others } from "./windows.js";

const LEFT = "vine-mark-left";
const kind = `${section || "desk"} fields `;
const own = kind + page;
const typed = new Map();
const sentWith = new WeakMap();
const tried = new WeakSet();
/* What was typed into on this page is newer than what an earlier one left. */
const touched = new Set();
let path = location.pathname + location.search;
let keeps = true;
let changed = () => {};
let later = 0;
/* The fields of the last answer that somebody else had changed them meanwhile. */
let conflicting = [];

export const count = () => typed.size;
export const keptHere = () => keeps;
export const list = () => [...typed].map(([name, one]) => ({ name, ...one }));
export const isOwn = (name) => name === own;

/* What a field holds now, against what it was saved with. */
export function note(field) {
  if (!saves(field)) return;
  const name = nameOf(field);
  touched.add(name);
  const before = typed.get(name);
  if (held(field) === saved(field)) typed.delete(name);
  else if (before?.typed !== held(field)) typed.set(name, noted(field, before));
  show(field);
  keepSoon();
  changed();
}

function noted(field, before) {
  const shown = before?.shown ?? field.closest("[data-shown]")?.dataset.shown ?? "";
  return { typed: held(field), was: before?.was ?? saved(field), shown, label: labelOf(field), at: Date.now() };
}

function show(field) {
  const one = typed.get(nameOf(field));
  field.toggleAttribute("data-unsaved", Boolean(one));
  if (one?.refused) field.title = one.refused;
}

export function giveUp(name) {
  const field = find(name);
  const one = typed.get(name);
  typed.delete(name);
  if (field && one) {
    put(field, saved(field));
    field.removeAttribute("aria-invalid");
    show(field);
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  keep();
  changed();
}

/* Of two texts for one place, the other one stays. */
export function leaveTheirs() {
  for (const name of conflicting.splice(0)) giveUp(name);
}

function keepSoon() {
  clearTimeout(later);
  later = setTimeout(keep, 200);
}

export function keep() {
  clearTimeout(later);
  if (!typed.size) { remove(own); keeps = true; return; }
  const where = document.querySelector("h1")?.textContent.trim() ?? document.title;
  keeps = seal(own, { path, where, at: Date.now(), fields: Object.fromEntries(typed) });
}

/* What goes out with a request, and the earliest state of the section that any of it was typed on. */
export function sending(xhr, fields) {
  const sent = new Map();
  for (const field of fields) {
    const one = typed.get(nameOf(field));
    if (one) sent.set(nameOf(field), one.typed);
  }
  sentWith.set(xhr, sent);
}

/* A request that only tries what was typed: its answer shows it, and nothing of it is saved. */
export function trying(xhr, fields) {
  sending(xhr, fields);
  tried.add(xhr);
}

export function shownTo(fields, otherwise) {
  const shown = fields.map((field) => typed.get(nameOf(field))?.shown).filter(Boolean).map(Number);
  return shown.length ? String(Math.min(...shown, Number(otherwise || Infinity))) : otherwise;
}

/* A field with the focus is left alone by an answer; what is saved for it is told here. */
const fresh = new Map();
Idiomorph.defaults.callbacks.beforeNodeMorphed = (field, now) => {
  if (field === document.activeElement && saves(field)) fresh.set(nameOf(field), saved(now));
  return true;
};

function savedAnew(xhr, sent) {
  for (const [name, text] of fresh) {
    const field = find(name);
    if (field && !(xhr.status === 422 && sent.has(name))) saveAs(field, text);
  }
  fresh.clear();
}

/* After an answer: what was saved is no longer typed only; everything else is put back as it stood. */
export function answered(xhr) {
  const sent = sentWith.get(xhr) ?? new Map();
  if (xhr.status === 409) conflicting = [...sent.keys()];
  savedAnew(xhr, sent);
  const done = marked(xhr) && xhr.status >= 200 && xhr.status < 300 && !tried.has(xhr);
  for (const [name, one] of [...typed]) {
    if (done && sent.get(name) === one.typed) { typed.delete(name); continue; }
    const field = find(name);
    if (!field) continue;
    if (sent.has(name)) sentBack(field, one, tried.has(xhr) ? 422 : xhr.status);
    put(field, one.typed);
    if (held(field) === saved(field)) typed.delete(name);
  }
  for (const field of all()) show(field);
  keep();
  changed();
}

function sentBack(field, one, status) {
  if (status === 422) {
    one.refused = reasonOf(field);
    saveAs(field, one.was);
  } else if (status >= 200 && status < 300) {
    one.was = saved(field);
    one.shown = field.closest("[data-shown]")?.dataset.shown ?? "";
  }
}

/* A form goes out as a page of its own: the next page tells whether it was taken. */
export function leavesWith(form) {
  for (const field of form.elements) {
    const one = typed.get(nameOf(field));
    if (one) one.sent = true;
  }
  keep();
  try { sessionStorage.setItem(LEFT, own); } catch { /* then it shows as not saved, and can be discarded */ }
}

/* What an earlier page of this address left behind is put back into its fields. */
export async function start(onChange) {
  changed = onChange;
  takeLeft();
  keep();
  changed();
  const alive = await others();
  for (const name of names().filter((one) => one.startsWith(kind) && !isOwn(one))) {
    const left = get(name);
    if (left?.path !== path || alive.has(name.slice(kind.length))) continue;
    bringBack(left.fields);
    remove(name);
  }
  keep();
  changed();
}

function takeLeft() {
  const name = sessionStorage.getItem(LEFT);
  sessionStorage.removeItem(LEFT);
  const left = name && get(name);
  if (!left) return;
  const came = performance.getEntriesByType("navigation")[0];
  const refused = came?.responseStatus >= 400;
  const fields = Object.entries(left.fields);
  if (refused) {
    path = left.path;
    for (const [field, one] of fields) if (find(field)) saveAs(find(field), one.was);
  }
  const taken = came?.responseStatus < 400 && came.type !== "back_forward";
  left.fields = Object.fromEntries(fields.filter(([, one]) => !(one.sent && taken)));
  for (const one of Object.values(left.fields)) delete one.sent;
  if (left.path === path) bringBack(left.fields);
  if (left.path === path || !Object.keys(left.fields).length) remove(name);
  else seal(name, left);
}

function bringBack(fields) {
  for (const [name, one] of Object.entries(fields)) {
    const field = find(name);
    if (field && saved(field) === one.typed) continue;
    if (touched.has(name) || typed.has(name)) continue;
    typed.set(name, one);
    if (!field) continue;
    put(field, one.typed);
    show(field);
    for (let box = field.closest("details"); box; box = box.parentElement.closest("details")) box.open = true;
  }
}
