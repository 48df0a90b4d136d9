/* What was typed into cells and is on its way: in order, repeated until answered, kept sealed through a reload. */

import { newKey, page, post, section } from "../../ui/http.js";
import { get, names, put, remove } from "../../ui/sealed.js";
import { goOn, signedOut } from "../../ui/session.js";
import { register, show } from "../../ui/unsaved.js";
import { others, whenOneCloses } from "../../ui/windows.js";
import { seen, sheet } from "./state.js";

const LONGEST_PAUSE = 15000;
const kind = `${section} cells `;
const own = kind + page;
const queue = [];
/* Cells that were refused, or that somebody else changed meanwhile, with what was typed into them. */
const refused = new Map();
let busy = false;
let pause = 1000;
let why = "";
let keeps = true;
let hooks = {};

const place = ({ student, item }) => `${student} ${item}`;
const sizeOf = (change) => change.cells.length + (change.remark || change.undo ? 1 : 0);

export const waiting = () => queue.reduce((sum, change) => sum + sizeOf(change), 0);

export function pending(student, item) {
  return queue.some((change) => change.cells.some((cell) => cell.student === student && cell.item === item));
}

/* A later change of the same cell stands on what the earlier one left there. */
export function rebase({ student, item }, text) {
  for (const change of queue) {
    for (const cell of change.cells) if (cell.student === student && cell.item === item) cell.was = text;
  }
  keep();
}

export function enqueue(change) {
  queue.push({ key: newKey(), at: Date.now(), cells: [], what: "", ...change });
  keep();
  show();
  if (!busy) sendNext();
}

export function setAside(one) {
  refused.set(place(one), one);
  keep();
}

export function takeUp(one) {
  if (refused.delete(place(one))) keep();
}

function keep() {
  if (!queue.length && !refused.size) { remove(own); keeps = true; return; }
  const at = queue[0]?.at ?? [...refused.values()][0].at;
  const places = { where: "Scores", path: location.pathname, address: sheet.dataset.cells };
  keeps = put(own, { ...places, at, queue, refused: [...refused.values()] });
}

export async function start(found) {
  hooks = found;
  register({
    waiting,
    refused: () => refused.size,
    trouble: () => (queue.length ? why : ""),
    keptHere: () => keeps,
    isOwn: (name) => name === own,
    list: () => [...refused.values()].map((one) => ({ words: hooks.words(one), go: () => hooks.goTo(one) })),
  });
  whenOneCloses(takeOver);
  await takeOver();
}

/* What a closed page of this section left behind is taken over; its keys make sending it twice harmless. */
async function takeOver() {
  const alive = await others();
  const left = names().filter((name) => name.startsWith(kind) && name !== own && !alive.has(name.slice(kind.length)));
  const leftBehind = left.map((name) => [name, get(name)]).filter(([, one]) => one).sort(([, a], [, b]) => a.at - b.at);
  if (!leftBehind.length) return;
  const found = leftBehind.flatMap(([, one]) => one.queue);
  const apart = leftBehind.flatMap(([, one]) => one.refused).filter((cell) => !refused.has(place(cell)));
  queue.unshift(...found);
  for (const cell of apart) refused.set(place(cell), cell);
  keep();
  for (const [name] of leftBehind) remove(name);
  hooks.restored(found, apart);
  show();
  if (!busy && queue.length) sendNext();
}

async function sendNext() {
  const change = queue[0];
  if (!change) { busy = false; return; }
  busy = true;
  const address = hooks.addressOf(change);
  if (!address) { drop(change); keep(); show(); return void sendNext(); }
  /* The stem is asked for with the last of what waits, not with each. */
  const answer = await post(address, { ...change, rail: queue.length === 1, seen: seen.last });
  why = answer.again ?? "";
  if (answer.signedOut) signedOut();
  if (answer.again) {
    show();
    if (answer.signedOut) goOn(sendNext);
    else setTimeout(sendNext, pause);
    pause = Math.min(pause * 2, LONGEST_PAUSE);
    return;
  }
  pause = 1000;
  drop(change);
  hooks.answered(change, answer.body ?? refusedAll(change, answer.refused));
  keep();
  show();
  sendNext();
}

/* Others may have been put before it meanwhile. */
function drop(change) {
  queue.splice(queue.indexOf(change), 1);
}

function refusedAll(change, reason) {
  const all = change.cells.map((cell) => ({ ...cell, reason }));
  return { rows: {}, feet: {}, conflicts: [], remark: "", entry: null, refused: all, reason };
}
