/* The state of the score sheet, owned here: where the focus is, what was said, what was seen. */

export const sheet = document.getElementById("sheet");
export const margin = document.getElementById("margin");
export const writable = sheet?.dataset.writable === "yes";

const said = document.getElementById("sheet-said");

/* The cell with the focus, the other corner of a block, whether the pointer draws one, whether scores are
   typed, and the column in which a row of Tabs began. */
export const focus = { current: null, anchor: null, dragging: false, typing: false, began: null };

/* The cell whose working the margin shows. */
export const working = { shown: null };

/* The last entry of the history this sheet has seen. */
export const seen = { last: Number(sheet?.dataset.last ?? 0), at: 0 };

export function say(words) {
  said.textContent = words;
}

const timers = {};

export function soon(name, run, delay) {
  clearTimeout(timers[name]);
  timers[name] = setTimeout(run, delay);
}
