/* The margin beside the sheet: the working of the cell that has the focus, and its remark. */

import { isScore, studentOf } from "./layout.js";
import { enqueue as send } from "./queue.js";
import { focus, margin, sheet, soon, working } from "./state.js";

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

function keepRemark(field) {
  const { student, item } = document.getElementById("cell-panel").dataset;
  if (field.value.trim() === field.defaultValue.trim()) return;
  field.defaultValue = field.value;
  send([], "", { student, item, text: field.value });
}

export function onMargin(event) {
  if (event.target.id !== "cell-remark") return;
  if (event.type === "change") return void keepRemark(event.target);
  if (event.key !== "Enter" && event.key !== "Escape") return;
  event.preventDefault();
  if (event.key === "Escape") event.target.value = event.target.defaultValue;
  else keepRemark(event.target);
  focus.current?.focus();
}
