/* Requests of a page that got no answer of the application: they go out again until they have one, under one key. */

import { all } from "./fields.js";
import { headers, markOf, newKey } from "./http.js";
import { goOn, signedOut } from "./session.js";
import { answered, sending, shownTo, trying } from "./typed.js";
import { cameBack, goesOut, register, show } from "./unsaved.js";

const LONGEST_PAUSE = 15000;
const waiting = new Map();
const writing = new WeakSet();
const failed = new WeakSet();
let pause = 1000;
let why = "";

const writes = (config) => config.verb !== "get" && !config.elt.closest("[data-asks], [data-tries]");

function included(elt) {
  const home = elt.closest("[hx-include]");
  if (!home) return [];
  const words = home.getAttribute("hx-include");
  return words === "this" ? [home] : [...document.querySelectorAll(words)];
}

/* The fields whose values a request carries. */
function carried({ elt, formData }) {
  const homes = [elt.closest("form") ?? elt, ...included(elt)];
  const inside = (field) => homes.some((home) => home === field || home.contains(field));
  return all().filter((field) => inside(field) && (field.type === "checkbox" || formData.has(field.name)));
}

function fingerprint(formData) {
  return JSON.stringify([...formData].filter(([name]) => name !== "key" && name !== "shown"));
}

document.addEventListener("htmx:configRequest", ({ detail }) => {
  Object.assign(detail.headers, headers());
  if (detail.verb === "get") return;
  const again = waiting.get(detail.elt);
  /* Under one key one thing is done: what was changed since goes out under its own. */
  const same = again?.path === detail.path && again.sent === fingerprint(detail.formData);
  if (same) detail.parameters.key = again.key;
  if (!detail.parameters.key) detail.parameters.key = newKey();
  const shown = shownTo(carried(detail), detail.elt.closest("[data-shown]")?.dataset.shown ?? "");
  if (shown && !detail.parameters.shown) detail.parameters.shown = shown;
});

document.addEventListener("htmx:beforeSend", ({ detail: { xhr, requestConfig: config } }) => {
  if (config.elt.closest("[data-tries]")) trying(xhr, carried(config));
  if (!writes(config)) return;
  writing.add(xhr);
  clearTimeout(waiting.get(config.elt)?.timer);
  waiting.delete(config.elt);
  sending(xhr, carried(config));
  goesOut();
});

/* A page of something between is not put into ours. */
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (!markOf(detail.xhr)) detail.shouldSwap = false;
});

document.addEventListener("htmx:afterRequest", ({ detail: { xhr, requestConfig: config } }) => {
  if (!xhr || !config) return;
  answered(xhr);
  /* Asked of the request: by now its element may have become another. */
  if (!writing.delete(xhr)) return;
  const mark = markOf(xhr);
  cameBack(mark && !swapped(xhr.status) && !signIn(mark) ? xhr.responseText.slice(0, 160) : "");
  if (!xhr.status) return void failed.add(xhr);
  if (signIn(mark)) repeat(config, "signed out");
  else if (!mark) repeat(config, `the server answers ${xhr.status}`);
  else pause = 1000;
});

for (const trouble of ["htmx:sendError", "htmx:timeout"]) {
  document.addEventListener(trouble, ({ detail: { xhr, requestConfig: config } }) => {
    if (config && failed.delete(xhr)) repeat(config, "no connection");
  });
}

const signIn = (mark) => mark === "sign-in" || mark === "stale";
const swapped = (status) => status < 400 || status === 409 || status === 422;

function repeat(config, reason) {
  why = reason;
  const { path, parameters: { key }, formData } = config;
  const one = { path, key, sent: fingerprint(formData), bare: !carried(config).length };
  waiting.set(config.elt, one);
  const again = () => {
    const source = config.elt.isConnected ? config.elt : null;
    if (source) htmx.ajax(config.verb, config.path, { source, target: config.target });
    else waiting.delete(config.elt);
    show();
  };
  if (reason === "signed out") {
    signedOut();
    goOn(again);
  } else {
    one.timer = setTimeout(again, pause);
    pause = Math.min(pause * 2, LONGEST_PAUSE);
  }
  show();
}

/* What was typed into fields is counted there; a choice or a press of a button is counted here. */
register({
  waiting: () => [...waiting.values()].filter((one) => one.bare).length,
  refused: () => 0,
  trouble: () => (waiting.size ? why : ""),
  keptHere: () => ![...waiting.values()].some((one) => one.bare),
  isOwn: () => false,
  list: () => [],
});
