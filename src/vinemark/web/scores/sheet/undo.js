/* Undo and redo: the session's own acts, kept in the tab so that a reload does not forget them. */

import { person } from "../../ui/http.js";
import { readRows, showRows } from "./cells.js";
import { enqueue } from "./queue.js";
import { say, sheet } from "./state.js";
import { namesHidden } from "./view.js";

const LONGEST = 500;
const key = `vine-mark-undo ${person} ${location.pathname}`;
const stacks = { done: [], undone: [], ...read() };

function read() {
  try { return JSON.parse(sessionStorage.getItem(key)) ?? {}; } catch { return {}; }
}

function keep() {
  const kept = { done: stacks.done.slice(-LONGEST), undone: stacks.undone.slice(-LONGEST) };
  try { sessionStorage.setItem(key, JSON.stringify(kept)); } catch { /* then a reload forgets them */ }
}

/* A new act ends what could be done again. */
export function recorded(entry) {
  stacks.undone.length = 0;
  stacks.done.push(entry);
  keep();
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
  return change.entry === undefined ? "" : sheet.dataset.undo;
}

export function takenBack(change, answer) {
  const stack = from(change.undo);
  if (stack.at(-1) === change.entry) stack.pop();
  if (answer.entry) to(change.undo).push(answer.entry);
  keep();
  if (!answer.entry) return void say(answer.reason ?? `Nothing to ${change.undo}.`);
  showRows(readRows(answer.rows), answer, answer.last);
  const what = namesHidden() ? "one change" : answer.what.replace(/^(undone: )+/, "");
  say(`${change.undo === "undo" ? "Undone" : "Done again"}: ${what}.`);
}
