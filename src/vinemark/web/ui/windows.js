/* The windows of one person in one browser: which of them live, and that they are signed out together. */

import { page, person } from "./http.js";

const PATIENCE = 250;
const living = new Set();
let channel = null;

try {
  channel = new BroadcastChannel(`vine-mark ${person}`);
  channel.addEventListener("message", ({ data }) => {
    if (data.who) channel.postMessage({ here: page });
    if (data.here) living.add(data.here);
    if (data.signedOut) location.replace("/sign-in");
  });
} catch { /* without it each window counts as gone: what it holds is then sent twice under one key */ }

/* The pages that answer; one that is closed, or asleep, does not. */
export function others() {
  if (!channel) return Promise.resolve(new Set());
  living.clear();
  channel.postMessage({ who: page });
  return new Promise((resolve) => setTimeout(() => resolve(new Set(living)), PATIENCE));
}

export function signedOut() {
  channel?.postMessage({ signedOut: true });
}
