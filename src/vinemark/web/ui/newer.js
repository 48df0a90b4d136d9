/* The server may be upgraded while a page is open: the page goes on, and says that there is a newer one. */

import { markOf } from "./http.js";

const mine = () => document.querySelector('meta[name="version"]')?.content;
const line = document.getElementById("newer");

function heard(version) {
  if (line && version && version !== mine()) line.hidden = false;
}

document.addEventListener("vine-mark:answer", ({ detail }) => heard(detail.version));
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (markOf(detail.xhr)) heard(detail.xhr.getResponseHeader("X-Vine-Mark-Version"));
});
line?.querySelector("button").addEventListener("click", () => location.reload());
