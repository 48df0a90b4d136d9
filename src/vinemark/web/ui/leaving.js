/* Leaving a page, sending a form as a page, signing out: first what was typed is saved, or put where it is found. */

import { held, saved, saves } from "./fields.js";
import { person, renew, session } from "./http.js";
import { goOn, signedOut } from "./session.js";
import * as typed from "./typed.js";
import { busy, elsewhere, here, keptHere, noAnswer, show } from "./unsaved.js";
import { signedOut as tellWindows } from "./windows.js";

const PATIENCE = 5000;
const passed = new WeakSet();

const pause = (time) => new Promise((resolve) => setTimeout(resolve, time));

const typing = () => {
  const field = document.activeElement;
  return saves(field) && held(field) !== saved(field);
};

/* Leaving a field saves it; then whatever is on its way gets its time. */
async function settled() {
  if (typing()) document.activeElement.blur();
  const until = performance.now() + PATIENCE;
  do await pause(20); while (busy() && performance.now() < until);
  typed.keep();
}

function ask(words, go) {
  const dialog = document.getElementById("leaving");
  dialog.querySelector("p").textContent = words;
  dialog.querySelector("[value=go]").textContent = go;
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    dialog.addEventListener("close", () => resolve(dialog.returnValue === "go"), { once: true });
  });
}

const changes = (number) => (number === 1 ? "1 change is" : `${number} changes are`);

document.addEventListener("click", async (event) => {
  const link = event.target.closest?.("a[href]");
  const otherwise = event.button || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey;
  if (!link || otherwise || event.defaultPrevented || link.target || link.hasAttribute("download")) return;
  const there = new URL(link.href);
  if (there.origin !== location.origin) return;
  if (there.hash && there.pathname + there.search === location.pathname + location.search) return;
  if (!busy() && !typing() && (!here() || keptHere())) return;
  event.preventDefault();
  await settled();
  const words = `${changes(here())} not saved, and this browser cannot keep what was typed.`;
  if (here() && !keptHere() && !(await ask(words, "Leave without saving"))) return;
  location.href = link.href;
});

/* A form that leaves the page goes when it will be answered: before that the page, and what was typed, stays. */
document.addEventListener("submit", async (event) => {
  const { target: form, submitter } = event;
  if (!person || form.method !== "post" || form.matches("[hx-post]:not([hx-trigger]), [data-no-submit]")) return;
  if (passed.delete(form)) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  await settled();
  if (form.matches("[data-sign-out]") && !(await mayGo())) return;
  goes(form, submitter);
}, true);

async function goes(form, submitter) {
  const now = await session();
  if (!now) return void noAnswer("no connection. Try again.");
  if (!now.person) { signedOut(); goOn(() => goes(form, submitter)); return; }
  if (String(now.person) !== person) return void location.replace("/");
  noAnswer("");
  renew(now.csrf);
  typed.leavesWith(form);
  if (form.matches("[data-sign-out]")) tellWindows();
  passed.add(form);
  form.requestSubmit(submitter?.form === form && !submitter.disabled ? submitter : null);
}

async function mayGo() {
  const left = here() + elsewhere().reduce((sum, one) => sum + one.number, 0);
  if (!left) return true;
  const wait = keptHere() ? "wait in this browser, locked until you sign in again" : "cannot be kept by this browser";
  return ask(`${changes(left)} not saved yet: they ${wait}.`, "Sign out");
}

window.addEventListener("beforeunload", (event) => {
  typed.keep();
  if (here() && !keptHere()) event.preventDefault();
});
window.addEventListener("pagehide", typed.keep);
document.addEventListener("visibilitychange", () => { if (document.hidden) typed.keep(); });
window.addEventListener("pageshow", (event) => { if (event.persisted) location.reload(); });
show();
