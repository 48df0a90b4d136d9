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

/* Each page holds a lock of its name for as long as it lives, which the browser knows at once. Over plain http there
   are none; there a page lives that answers in time. */
const LOCK = "vine-mark page ";
navigator.locks?.request(LOCK + page, () => new Promise(() => {}));

async function holding() {
  const { held } = await navigator.locks.query();
  return new Set(held.map((one) => one.name).filter((name) => name.startsWith(LOCK) && name !== LOCK + page)
    .map((name) => name.slice(LOCK.length)));
}

/* The pages that live. */
export function others() {
  if (navigator.locks) return holding();
  if (!channel) return Promise.resolve(new Set());
  living.clear();
  channel.postMessage({ who: page });
  return new Promise((resolve) => setTimeout(() => resolve(new Set(living)), PATIENCE));
}

/* What to do some seconds after another window has closed. */
export function whenOneCloses(listener) {
  listeners.push(listener);
}

export function signedOut() {
  channel?.postMessage({ signedOut: true });
}
