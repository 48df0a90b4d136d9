/* The queue of cells on their way: in order, repeated until answered, kept in the browser through a reload. */

import { newKey, post } from "../../ui/http.js";
import { sheet } from "./state.js";

const TAKE_OVER_AFTER = 10000;
const prefix = `vine-mark-cells ${location.pathname} `;
const tab = sessionStorage.getItem("vine-mark-tab") ?? newKey();
const queue = [];
let busy = false;
let pause = 1000;
let hooks = {};

sessionStorage.setItem("vine-mark-tab", tab);

export const waiting = () => queue.reduce((sum, change) => sum + change.cells.length + (change.remark ? 1 : 0), 0);

export function pending(student, item) {
  return queue.some((change) => change.cells.some((cell) => cell.student === student && cell.item === item));
}

/* A later change of the same cell stands on what the earlier one left there. */
export function rebase({ student, item }, text) {
  for (const change of queue) {
    for (const cell of change.cells) if (cell.student === student && cell.item === item) cell.was = text;
  }
  store();
}

export function enqueue(cells, what = "", remark = null) {
  queue.push({ key: newKey(), cells, what, ...(remark ? { remark } : {}) });
  store();
  hooks.changed();
  if (!busy) sendNext();
}

/* A queue that a closed tab left behind is taken over; its keys make a double sending harmless. */
export function start(found) {
  hooks = found;
  for (const name of Object.keys(localStorage).filter((key) => key.startsWith(prefix))) {
    const left = read(name);
    const mine = name === prefix + tab;
    if (!left || (!mine && Date.now() - left.at < TAKE_OVER_AFTER)) continue;
    queue.push(...left.queue);
    localStorage.removeItem(name);
  }
  if (queue.length) { store(); hooks.restored(queue); hooks.changed(); sendNext(); }
  setInterval(() => { if (queue.length) store(); }, TAKE_OVER_AFTER / 3);
}

function read(name) {
  try { return JSON.parse(localStorage.getItem(name)); } catch { return null; }
}

function store() {
  if (!queue.length) localStorage.removeItem(prefix + tab);
  else localStorage.setItem(prefix + tab, JSON.stringify({ at: Date.now(), queue }));
}

async function sendNext() {
  const change = queue[0];
  if (!change) { busy = false; return; }
  busy = true;
  const answer = await post(sheet.dataset.cells, change);
  if (answer.again) {
    hooks.changed(answer.again);
    setTimeout(sendNext, pause);
    pause = Math.min(pause * 2, 15000);
    return;
  }
  pause = 1000;
  queue.shift();
  store();
  hooks.answered(change, answer.body ?? refusedAll(change, answer.refused));
  hooks.changed();
  sendNext();
}

function refusedAll(change, reason) {
  const refused = change.cells.map((cell) => ({ ...cell, reason }));
  return { rows: {}, feet: {}, conflicts: [], remark: "", entry: null, refused };
}
