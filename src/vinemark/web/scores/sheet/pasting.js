/* A pasted block with words in it, or one that would fall outside, is looked at before it goes anywhere. */

import { post } from "../../ui/http.js";
import { change } from "./cells.js";
import { cellOf, laidOut, shownItems, shownRows, studentOf } from "./layout.js";
import { say, sheet } from "./state.js";

const dialog = document.getElementById("paste-dialog");
const WORDS = /\p{L}{2,}/u;

/* Whether more is in it than scores for the cells that are shown. */
export function doubtful(rows, first) {
  const many = rows.length > 1 || rows[0].length > 1;
  const hidden = rows.length > 1 && sheet.tBodies[0].rows.length > shownRows().length;
  return many && (hidden || laidOut(rows, first).outside > 0 || rows.some((row) => row.some((one) => WORDS.test(one))));
}

export async function lookAt(rows, first) {
  const shown = shownRows();
  const items = shownItems();
  const block = {
    rows,
    students: shown.map((row) => row.dataset.student),
    items,
    row: shown.indexOf(first.parentElement),
    column: items.indexOf(first.dataset.item),
    hidden: sheet.tBodies[0].rows.length - shown.length,
  };
  say("Looking at what is pasted …");
  const answer = await post(dialog.dataset.paste, block);
  if (!answer.body) return void say(`Nothing was pasted: ${answer.refused ?? answer.again}.`);
  say("");
  const { cells, said } = answer.body;
  if (!said.length) return void put(cells);
  ask(cells, said, first);
}

function ask(cells, said, first) {
  dialog.querySelector("ul").replaceChildren(...said.map((text) => {
    const line = document.createElement("li");
    line.textContent = text;
    return line;
  }));
  const go = dialog.querySelector("#paste-go");
  go.textContent = cells.length === 1 ? "Paste 1 cell" : `Paste ${cells.length} cells`;
  go.disabled = !cells.length;
  dialog.onclose = () => {
    if (dialog.returnValue === "paste") put(cells);
    else say("Nothing was pasted.");
    first.focus();
  };
  dialog.returnValue = "";
  dialog.showModal();
}

function put(cells) {
  const pairs = cells.map((one) => [cellOf(one), one.typed]).filter(([cell]) => cell);
  if (pairs.length) change(pairs, `${pairs.length} cells pasted`);
  const people = new Set(pairs.map(([cell]) => studentOf(cell))).size;
  say(`${pairs.length} cells of ${people === 1 ? "one student" : `${people} students`} pasted.`);
}
