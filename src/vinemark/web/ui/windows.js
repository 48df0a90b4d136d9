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

/* The pages that answer; one that is closed, or asleep, does not. */
export function others() {
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
