/* The margin beside the sheet: the working of the cell that has the focus, and its remark. */

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

/* Somebody else wrote there meanwhile: both texts are shown, and one is chosen. */
export function remarkAnswered(remark, { conflicts, reason }) {
  takeUp(asPlace(remark));
  const [other] = conflicts;
  if (!other && !reason) return;
  setAside({ ...asPlace(remark), typed: remark.text, by: other?.by, now: other?.now, reason });
  const both = other && `${other.by} wrote “${other.now}” meanwhile; you wrote “${remark.text}”.`;
  const why = both ?? `Not saved: ${reason}.`;
  say(why);
  const panel = document.getElementById("cell-panel");
  if (panel?.dataset.student !== remark.student || panel.dataset.item !== remark.item) return;
  const box = document.getElementById("remark-choice");
  const choose = (words, text) => {
    const button = document.createElement("button");
    Object.assign(button, { type: "button", className: "btn-plain", textContent: words });
    button.addEventListener("click", () => chosen(remark, other, text));
    return button;
  };
  box.replaceChildren(why, " ");
  if (other) box.append(choose("Use mine", remark.text), " ", choose("Leave theirs", other.now));
  box.hidden = false;
}

function chosen(remark, other, text) {
  document.getElementById("remark-choice").hidden = true;
  const field = document.getElementById("cell-remark");
  field.value = text;
  field.defaultValue = text;
  if (text === other.now) takeUp(asPlace(remark));
  else send({ remark: { ...remark, was: other.now } });
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
