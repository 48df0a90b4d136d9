/* The state of the score sheet, owned here: where the focus is, what was said, when it was last kept. */

export const sheet = document.getElementById("sheet");
export const margin = document.getElementById("margin");
export const writable = sheet?.dataset.writable === "yes";

const kept = document.getElementById("kept");
const said = document.getElementById("sheet-said");

/* The cell with the focus, the other corner of a block, and whether the pointer draws one. */
export const focus = { current: null, anchor: null, dragging: false };

/* The cell whose working the margin shows. */
export const working = { shown: null };

/* The last entry of the history this sheet has seen. */
export const seen = { last: Number(sheet?.dataset.last ?? 0) };

let keptAt = kept?.textContent.split(" · ")[1]?.trim() ?? "";

export function say(words) {
  said.textContent = words;
}

export function keptNow(at) {
  keptAt = at ?? keptAt;
}

/* How many cells wait and how many were refused; else when the last was kept. */
export function showKept(left, trouble) {
  const refused = sheet.querySelectorAll(".cell.refused").length;
  kept.classList.toggle("waiting", left > 0);
  kept.classList.toggle("refused", !left && refused > 0);
  if (left) kept.textContent = `${left} not kept yet${trouble ? `: ${trouble}` : ""}`;
  else if (refused) kept.textContent = `${refused} refused, the rest kept`;
  else if (keptAt) kept.textContent = `All changes kept · ${keptAt}`;
}

const timers = {};

export function soon(name, run, delay) {
  clearTimeout(timers[name]);
  timers[name] = setTimeout(run, delay);
}
