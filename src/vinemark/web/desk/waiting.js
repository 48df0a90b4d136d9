/* What this person typed on this computer and is not saved yet, wherever that was: sent, looked at, or given up. */

import { post } from "../ui/http.js";
import { get, put, remove } from "../ui/sealed.js";
import { cellsOf, elsewhere, show } from "../ui/unsaved.js";
import { others } from "../ui/windows.js";

const box = document.getElementById("waiting");

const day = (at) => new Date(at).toLocaleDateString("en-US", { month: "short", day: "numeric" });

function sectionName(section) {
  const name = document.querySelector(`#section-${CSS.escape(section)} h3`);
  return name?.textContent.trim() ?? "a section that is not yours now";
}

function words({ sort, number, where, at, section }) {
  const what = sort === "cells" ? `score${number === 1 ? "" : "s"}` : `change${number === 1 ? "" : "s"}`;
  const verb = number === 1 ? "is" : "are";
  return `${number} ${what} typed on ${day(at)} on ${where} of ${sectionName(section)} ${verb} waiting.`;
}

function button(name, run) {
  const made = document.createElement("button");
  Object.assign(made, { type: "button", className: "btn btn-line", textContent: name });
  made.addEventListener("click", run);
  return made;
}

function way(one) {
  const link = document.createElement("a");
  Object.assign(link, { href: one.path, textContent: "Go there", className: "btn-plain" });
  return link;
}

function line(one) {
  const entry = document.createElement("li");
  const said = document.createElement("span");
  said.textContent = words(one);
  entry.append(said);
  if (one.sort === "cells" && one.queue.length) entry.append(" ", button("Send them", () => send(one, said)));
  entry.append(" ", way(one), " ", button("Discard", () => { remove(one.name); fill(); }));
  return entry;
}

/* In their order, each under its key: what the server has had before is not written twice. */
async function send(one, said) {
  for (const change of [...one.queue]) {
    if (change.undo) { one.queue.shift(); continue; }
    const answer = await post(one.address, change);
    if (answer.again) { said.textContent = `${words(one)} Not sent: ${answer.again}.`; return; }
    one.queue.shift();
    one.refused.push(...notTaken(change, answer));
    if (one.queue.length || one.refused.length) put(one.name, one);
    else remove(one.name);
  }
  fill();
  const left = get(one.name);
  const why = left && `${cellsOf(left)} not saved: go there to see why.`;
  document.getElementById("waiting-said").textContent = why ?? "Saved.";
}

function notTaken(change, { body, refused }) {
  if (!body) return change.cells.map((cell) => ({ ...cell, reason: refused }));
  const same = (one) => (cell) => cell.student === one.student && cell.item === one.item;
  const typed = (one) => change.cells.find(same(one))?.typed ?? "";
  return [...body.refused, ...body.conflicts].map((one) => ({ ...one, typed: typed(one) }));
}

/* What another window still holds is its own to send. */
async function fill() {
  const alive = await others();
  const left = elsewhere().filter((one) => !alive.has(one.name.split(" ").at(-1)));
  box.hidden = !left.length && !document.getElementById("waiting-said").textContent;
  box.querySelector("ul").replaceChildren(...left.map(line));
  show();
}

if (box) fill();
