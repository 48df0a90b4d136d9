/* What comes of what was typed: the server's answer to a change, and what others change meanwhile. */

import { headers } from "../../ui/http.js";
import { savedAt } from "../../ui/unsaved.js";
import { conflict, pending, readRows, refuse, showRows } from "./cells.js";
import { cellOf } from "./layout.js";
import { remarkAnswered } from "./margin.js";
import { rebase, setAside, takeUp } from "./queue.js";
import { say, seen, sheet, soon } from "./state.js";
import { recorded, takenBack } from "./undo.js";

/* A page that was told so lately need not ask. */
const RECENT = 3000;
/* Nothing was typed for so long: what the audit finds by now is asked for. */
const PAUSED = 4000;
/* When a stem came that said that it is to be asked for. */
let auditDue = 0;

const same = (one) => (other) => other.student === one.student && other.item === one.item;

const typedIn = (change, one) => change.cells.find(same(one))?.typed ?? "";

const textIn = (read, { student, item }) => read.getElementById(`cell-${student}-${item}`)?.textContent ?? "";

export function answered(change, answer) {
  if (change.undo) takenBack(change, answer);
  else written(change, answer);
  savedAt(answer.kept_at);
  showRail(answer);
}

/* The stem came with the answer. What is older than what stands there is left: all of it, or what the audit found. */
function showRail({ rail, audit_due: due }) {
  if (!rail) return;
  auditDue = due ? Date.now() : 0;
  if (due) soon("audit", lookAround, PAUSED);
  const [now, fresh] = [document, new DOMParser().parseFromString(rail, "text/html")].map((page) =>
    page.getElementById("rail"));
  if (Number(fresh.dataset.version) < Number(now.dataset.version)) return;
  if (Number(fresh.dataset.audited) < Number(now.dataset.audited)) keepAudited(now, fresh);
  Idiomorph.morph(now, fresh);
}

function keepAudited(now, fresh) {
  const [kept, older] = [now, fresh].map((rail) => rail.querySelector("[data-step=audit]"));
  if (kept && older) older.replaceWith(kept.cloneNode(true));
  fresh.dataset.audited = now.dataset.audited;
}

function written(change, answer) {
  const { rows, refused, conflicts, remark, entry, last } = answer;
  if (answer.seen) looked(answer.seen, answer.plan_changed);
  const read = readRows(rows);
  for (const one of change.cells) {
    settle(one, read, refused.some(same(one)), conflicts.some(same(one)));
  }
  for (const one of refused) {
    setAside({ ...one, typed: typedIn(change, one), at: change.at });
    refuse(cellOf(one), typedIn(change, one), one.reason);
  }
  showRows(read, answer, last);
  recorded(entry, change.key, change.remark ? [] : refused);
  if (change.remark) return void remarkAnswered(change.remark, answer);
  for (const one of conflicts) {
    setAside({ ...one, typed: typedIn(change, one), at: change.at });
    conflict(cellOf(one), typedIn(change, one), one);
  }
  if (!refused.length && !conflicts.length) {
    if (answer.registrar) return void say(answer.registrar);
    say(remark && change.cells.length ? `${change.cells[0].typed} is saved; it is ${remark}.` : "");
  }
}

/* A cell that was typed into again meanwhile still waits; its later change stands on what is saved now. */
function settle(one, read, refused, conflicting) {
  const cell = cellOf(one);
  if (!cell) return;
  if (pending(cell)) {
    if (refused || conflicting) return;
    cell.dataset.kept = textIn(read, one);
    rebase(one, cell.dataset.kept);
    return;
  }
  takeUp(one);
  cell.classList.remove("sending", "refused", "conflict");
  delete cell.dataset.typed;
  if (!refused) delete cell.dataset.kept;
}

/* What others changed came with an answer. */
function looked(last, planChanged) {
  seen.last = last;
  seen.at = Date.now();
  if (planChanged) say("The plan changed meanwhile: load the page again to see its grades.");
}

export async function lookAround() {
  const paused = auditDue && Date.now() - auditDue >= PAUSED;
  if (document.hidden || !navigator.onLine || (!paused && Date.now() - seen.at < RECENT)) return;
  try {
    const address = sheet.dataset.since.replace("AFTER", seen.last) + (paused ? "?paused" : "");
    const response = await fetch(address, { headers: headers(), redirect: "manual" });
    if (!response.ok) return;
    const news = await response.json();
    showRows(readRows(news.rows), news, news.last);
    showRail(news);
    looked(news.last, news.plan_changed);
  } catch {
    /* no connection: the next look will tell */
  }
}
