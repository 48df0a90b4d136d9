/* Signed out while typing: the page stays and says so, one signs in beside it, and it goes on. */

import { keep } from "./typed.js";
import { person, renew, session } from "./http.js";

const EVERY = 4000;
const after = [];
let asking = 0;

const dialog = () => document.getElementById("signed-out");

/* What is to be done once the same person is signed in again. */
export function goOn(run) {
  after.push(run);
}

export function signedOut() {
  if (!person || asking) return;
  asking = setInterval(look, EVERY);
  window.addEventListener("focus", look);
  dialog()?.show();
  dialog()?.querySelector("a")?.focus();
}

async function look() {
  const now = await session();
  if (!now?.person) return;
  keep();
  if (String(now.person) !== person) return void location.replace("/");
  clearInterval(asking);
  asking = 0;
  window.removeEventListener("focus", look);
  renew(now.csrf);
  dialog()?.close();
  for (const run of after.splice(0)) run();
}
