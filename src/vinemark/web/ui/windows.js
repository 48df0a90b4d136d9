/* The windows of one person in one browser: which of them live, and that they are signed out together. */

import { page, person } from "./http.js";

const PATIENCE = 250;
/* Long enough for a page that is loaded anew to find again itself what it left a moment ago. */
const LEFT_ALONE = 4000;
const living = new Set();
const listeners = [];
let channel = null;

try {
  channel = new BroadcastChannel(`vine-mark ${person}`);
  channel.addEventListener("message", ({ data }) => {
    if (data.who) channel.postMessage({ here: page });
    if (data.here) living.add(data.here);
    if (data.gone) setTimeout(() => listeners.forEach((listener) => listener()), LEFT_ALONE);
    if (data.signedOut) location.replace("/sign-in");
  });
  addEventListener("pagehide", () => channel.postMessage({ gone: page }));
} catch { /* without it each window counts as gone: what it holds is then sent twice under one key */ }

/* Each page holds a lock of its name for as long as it lives: one that is slow to answer and still holds it is waited
   for, until it answers or is gone. Over plain http there are no locks; there a page lives that answers in time. */
const LOCK = "vine-mark page ";
const RETRIES = 100;
navigator.locks?.request(LOCK + page, () => new Promise(() => {}));

async function undecided() {
  if (!navigator.locks) return [];
  const { held } = await navigator.locks.query();
  const names = held.map((one) => one.name).filter((name) => name.startsWith(LOCK) && name !== LOCK + page);
  return names.map((name) => name.slice(LOCK.length)).filter((one) => !living.has(one));
}

/* The pages that live; one that is closed does not. */
export async function others() {
  if (!channel) return new Set();
  living.clear();
  channel.postMessage({ who: page });
  let open = [];
  for (let tries = 0; tries === 0 || (open.length && tries < RETRIES); tries += 1) {
    await new Promise((resolve) => setTimeout(resolve, tries ? PATIENCE / 2 : PATIENCE));
    open = await undecided();
  }
  return new Set([...living, ...open]);
}

/* What to do some seconds after another window has closed. */
export function whenOneCloses(listener) {
  listeners.push(listener);
}

export function signedOut() {
  channel?.postMessage({ signedOut: true });
}
