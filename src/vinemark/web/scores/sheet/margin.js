/* The margin beside the sheet: the working of the cell that has the focus, and its remark. */

import { open as openMargin } from "../../ui/margin.js";
import { show } from "../../ui/unsaved.js";
import { isScore, studentOf } from "./layout.js";
import { enqueue as send, setAside, takeUp } from "./queue.js";
import { focus, margin, say, sheet, soon, working } from "./state.js";

/* What is being written in the margin is left alone. */
export function showWorking(cell, again = false) {
  const item = cell.dataset.item ?? "";
  const place = `${studentOf(cell)} ${item}`;
  if ((working.shown === place && !again) || margin.contains(document.activeElement)) return;
  working.shown = place;
  const address = sheet.dataset.working.replace("STUDENT", encodeURIComponent(studentOf(cell)));
  const source = `${address}?item=${encodeURIComponent(item)}`;
  soon("working", () => htmx.ajax("GET", source, { target: "#margin", swap: "innerHTML" }), 140);
}

export function toRemark() {
  const { current } = focus;
  if (!isScore(current)) return;
  const panel = document.getElementById("cell-panel");
  if (panel?.dataset.student === studentOf(current) && panel.dataset.item === current.dataset.item) {
    openMargin();
    document.getElementById("cell-remark").select();
    return;
  }
  setTimeout(() => {
    if (document.activeElement === current) toRemark();
  }, 100);
}

/* A remark goes the way of the scores, with what it was when it was written over. */
export function sendRemark() {
  const field = document.getElementById("cell-remark");
  if (!field || field.value.trim() === field.defaultValue.trim()) return;
  const { student, item } = document.getElementById("cell-panel").dataset;
  send({ remark: { student, item, text: field.value, was: field.defaultValue } });
  field.defaultValue = field.value;
}

const asPlace = ({ student, item }) => ({ student: `remark ${student}`, item });

/* Remarks of which somebody else wrote another meanwhile, or that were refused: by student and item. */
const open = new Map();
const nameOf = ({ student, item }) => `${student} ${item}`;

/* Both texts are shown, and one is chosen. */
export function remarkAnswered(remark, { conflicts, reason }) {
  takeUp(asPlace(remark));
  open.delete(nameOf(remark));
  const [other] = conflicts;
  if (!other && !reason) return;
  setAside({ ...asPlace(remark), typed: remark.text, by: other?.by, now: other?.now, reason });
  remarkLeftOpen(remark, other, reason);
  say(showChoice() ?? "");
}

export function remarkLeftOpen(remark, other, reason) {
  const both = other && `${other.by} wrote “${other.now}” meanwhile; you wrote “${remark.text}”.`;
  open.set(nameOf(remark), { remark, other, why: both ?? `Not saved: “${remark.text}” ${reason}.` });
}

/* The margin may come anew at any time: what is open for its cell is shown again. */
export function showChoice() {
  const panel = document.getElementById("cell-panel");
  const one = panel && open.get(nameOf(panel.dataset));
  if (!one) return null;
  const { remark, other, why } = one;
  const box = document.getElementById("remark-choice");
  const choose = (words, run) => {
    const button = document.createElement("button");
    Object.assign(button, { type: "button", className: "btn-plain", textContent: words });
    button.addEventListener("click", run);
    return button;
  };
  box.replaceChildren(why, " ");
  if (other) box.append(choose("Use mine", () => chosen(one, remark.text)), " ");
  box.append(choose("Leave what is there", () => chosen(one, other ? other.now : null)));
  box.hidden = false;
  return why;
}

function chosen({ remark, other }, text) {
  document.getElementById("remark-choice").hidden = true;
  open.delete(nameOf(remark));
  const field = document.getElementById("cell-remark");
  if (text !== null) Object.assign(field, { value: text, defaultValue: text });
  if (text === remark.text) send({ remark: { ...remark, was: other.now } });
  else takeUp(asPlace(remark));
  show();
  focus.current?.focus();
}

export function onMargin(event) {
  if (event.target.id !== "cell-remark") return;
  if (event.type === "change") return void sendRemark();
  if (event.key !== "Enter" && event.key !== "Escape") return;
  event.preventDefault();
  if (event.key === "Escape") event.target.value = event.target.defaultValue;
  else sendRemark();
  focus.current?.focus();
}
