/* What comes of what was typed: the server's answer to a change, and what others change meanwhile. */

import { conflict, pending, readRows, refuse, showRows } from "./cells.js";
import { cellOf } from "./layout.js";
import { rebase } from "./queue.js";
import { keptNow, say, seen, sheet, soon } from "./state.js";
import { recorded } from "./undo.js";

const same = (one) => (other) => other.student === one.student && other.item === one.item;

const typedIn = (change, one) => change.cells.find(same(one))?.typed ?? "";

const textIn = (read, { student, item }) => read.getElementById(`cell-${student}-${item}`)?.textContent ?? "";

export function answered(change, { rows, feet, refused, conflicts, remark, entry, kept_at: at }) {
  const read = readRows(rows);
  for (const one of change.cells) {
    settle(one, read, refused.some(same(one)), conflicts.some(same(one)));
  }
  for (const one of refused) refuse(cellOf(one), typedIn(change, one), one.reason);
  showRows(read, feet);
  for (const one of conflicts) conflict(cellOf(one), typedIn(change, one), one);
  if (entry) recorded(entry);
  keptNow(at);
  if (!refused.length && !conflicts.length) {
    say(remark && change.cells.length ? `${change.cells[0].typed} is kept; it is ${remark}.` : "");
  }
  soon("standing", () => htmx.ajax("GET", sheet.dataset.standing, { target: "#rail", swap: "none" }), 600);
}

/* A cell that was typed into again meanwhile still waits; its later change stands on what is kept now. */
function settle(one, read, refused, conflicting) {
  const cell = cellOf(one);
  if (!cell) return;
  if (pending(cell)) {
    if (refused || conflicting) return;
    cell.dataset.kept = textIn(read, one);
    rebase(one, cell.dataset.kept);
    return;
  }
  cell.classList.remove("sending", "refused", "conflict");
  delete cell.dataset.typed;
  if (!refused) delete cell.dataset.kept;
}

export async function lookAround() {
  if (document.hidden || !navigator.onLine) return;
  try {
    const response = await fetch(sheet.dataset.since.replace("AFTER", seen.last));
    if (!response.ok) return;
    const news = await response.json();
    showRows(readRows(news.rows), news.feet);
    seen.last = news.last;
    if (news.plan_changed) say("The plan changed meanwhile: load the page again to see its grades.");
  } catch {
    /* no connection: the next look will tell */
  }
}
