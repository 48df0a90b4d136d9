/* Undo and redo: the session's own acts, kept in the tab so that a reload does not forget them. */

import { post } from "../../ui/http.js";
import { readRows, showKept, showRows } from "./cells.js";
import { waiting } from "./queue.js";
import { keptNow, say, sheet } from "./state.js";
import { namesHidden } from "./view.js";

const LONGEST = 500;
const key = `vine-mark-undo ${location.pathname}`;
const { done = [], undone = [] } = JSON.parse(sessionStorage.getItem(key) ?? "{}");

function keep() {
  sessionStorage.setItem(key, JSON.stringify({ done: done.slice(-LONGEST), undone: undone.slice(-LONGEST) }));
}

/* A new act ends what could be done again. */
export function recorded(entry) {
  undone.length = 0;
  done.push(entry);
  keep();
}

export const undo = () => takeBack(done, undone, "undo");
export const redo = () => takeBack(undone, done, "redo");

async function takeBack(from, to, word) {
  if (waiting()) return void say("Wait until all is kept.");
  const entry = from.pop();
  if (!entry) return void say(`Nothing to ${word}.`);
  const answer = await post(sheet.dataset.undo, { entry });
  if (answer.body) to.push(answer.body.entry);
  else if (answer.again) from.push(entry);
  keep();
  if (!answer.body) return void say(answer.refused ?? `Not done: ${answer.again}.`);
  showRows(readRows(answer.body.rows), answer.body.feet);
  keptNow(answer.body.kept_at);
  showKept();
  const what = namesHidden() ? "one change" : answer.body.what.replace(/^(undone: )+/, "");
  say(`${word === "undo" ? "Undone" : "Done again"}: ${what}.`);
}
