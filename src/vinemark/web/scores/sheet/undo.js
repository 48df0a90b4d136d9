/* Undo and redo: the session's own acts, kept in the tab so that a reload does not forget them. */

import { person } from "../../ui/http.js";
import { letGo, readRows, showRows } from "./cells.js";
import { cellOf } from "./layout.js";
import { enqueue } from "./queue.js";
import { say, sheet } from "./state.js";
import { namesHidden } from "./view.js";

const LONGEST = 500;
const key = `vine-mark-undo ${person} ${location.pathname}`;
/* `refused` are the cells of an act that were refused, by its entry: they go with it. */
const stacks = { done: [], undone: [], refused: {}, ...read() };

function read() {
  try { return JSON.parse(sessionStorage.getItem(key)) ?? {}; } catch { return {}; }
}

function keep() {
  const kept = { ...stacks, done: stacks.done.slice(-LONGEST), undone: stacks.undone.slice(-LONGEST) };
  try { sessionStorage.setItem(key, JSON.stringify(kept)); } catch { /* then a reload forgets them */ }
}

/* A new act ends what could be done again. One of which every cell was refused has no entry; its key stands for it. */
export function recorded(entry, key, refused) {
  if (!entry && !refused.length) return;
  stacks.undone.length = 0;
  stacks.refused = Object.fromEntries(stacks.done.map((one) => [one, stacks.refused[one]]).filter(([, one]) => one));
  stacks.done.push(entry ?? key);
  if (refused.length) stacks.refused[entry ?? key] = refused.map(({ student, item }) => ({ student, item }));
  keep();
}

/* What was refused and still stands so in the sheet goes back to what is saved. */
function letRefusedGo(entry) {
  const cells = (stacks.refused[entry] ?? []).map(cellOf).filter((cell) => cell?.classList.contains("refused"));
  cells.forEach(letGo);
  delete stacks.refused[entry];
  return cells.length;
}

/* An act that saved nothing is undone here. */
function refusedAlone(entry) {
  stacks.done.pop();
  const count = letRefusedGo(entry);
  keep();
  say(`Undone: ${count} refused score${count === 1 ? "" : "s"}.`);
}

/* Behind whatever still waits: what is undone is the last that was typed, saved by then or not. */
export const undo = () => enqueue({ undo: "undo" });
export const redo = () => enqueue({ undo: "redo" });

const from = (word) => (word === "undo" ? stacks.done : stacks.undone);
const to = (word) => (word === "undo" ? stacks.undone : stacks.done);

/* Where a change goes; which entry is undone is known when its turn has come. */
export function addressOf(change) {
  if (!change.undo) return sheet.dataset.cells;
  change.entry ??= from(change.undo).at(-1);
  if (change.entry === undefined) say(`Nothing to ${change.undo}.`);
  if (typeof change.entry === "string") return void refusedAlone(change.entry);
  return change.entry === undefined ? "" : sheet.dataset.undo;
}

export function takenBack(change, answer) {
  const stack = from(change.undo);
  if (stack.at(-1) === change.entry) stack.pop();
  if (answer.entry) to(change.undo).push(answer.entry);
  if (answer.entry && change.undo === "undo") letRefusedGo(change.entry);
  keep();
  if (!answer.entry) return void say(answer.reason ?? `Nothing to ${change.undo}.`);
  showRows(readRows(answer.rows), answer, answer.last);
  const what = namesHidden() ? "one change" : answer.what.replace(/^(undone: )+/, "");
  say(`${change.undo === "undo" ? "Undone" : "Done again"}: ${what}.`);
}
