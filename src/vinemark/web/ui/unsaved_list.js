/* The list of what is not saved yet: what it is, why, where it is to be found, and how to give it up. */

import { remove } from "./sealed.js";
import * as typed from "./typed.js";
import { elsewhere, listed, show } from "./unsaved.js";

const dialog = document.getElementById("unsaved");
const list = dialog?.querySelector("ul");

function entry(words, acts) {
  const line = document.createElement("li");
  const said = document.createElement("span");
  said.textContent = words;
  line.append(said);
  for (const [name, run] of acts) {
    const button = document.createElement("button");
    Object.assign(button, { type: "button", className: "btn-plain", textContent: name });
    button.addEventListener("click", run);
    line.append(" ", button);
  }
  return line;
}

const day = (at) => new Date(at).toLocaleDateString("en-US", { weekday: "short", month: "short", day: "numeric" });

function goTo(name) {
  dialog.close();
  const field = document.getElementById(name);
  for (let box = field?.closest("details"); box; box = box.parentElement.closest("details")) box.open = true;
  field?.focus();
}

function fill() {
  const fields = typed.list().map((one) => entry(
    `${one.label}: “${shown(one.typed)}”${one.refused ? ` (${one.refused})` : ""}`,
    [["Go there", () => goTo(one.name)], ["Discard", () => { typed.giveUp(one.name); fill(); }]],
  ));
  const cells = listed().map((one) => entry(one.words, [["Go there", () => { dialog.close(); one.go(); }]]));
  const others = elsewhere().map((one) => entry(
    `${one.number} typed on ${one.where}, ${day(one.at)}`,
    [["Go there", () => { location.href = one.path; }], ["Discard", () => { remove(one.name); show(); fill(); }]],
  ));
  const lines = [...fields, ...cells, ...others];
  if (!lines.length) dialog.close();
  const said = (all) => [...all].map((line) => line.textContent).join();
  if (said(lines) === said(list.children)) return;
  const at = [...list.querySelectorAll("button")].indexOf(document.activeElement);
  list.replaceChildren(...lines);
  if (at >= 0) list.querySelectorAll("button")[at]?.focus();
}

const shown = (text) => ({ true: "on", false: "off", "": "nothing" })[text] ?? text;

if (dialog) {
  document.addEventListener("click", (event) => {
    if (!event.target.closest("#open-unsaved")) return;
    list.replaceChildren();
    fill();
    if (list.children.length) dialog.showModal();
  });
  document.addEventListener("unsaved:shown", () => { if (dialog.open) fill(); });
}
