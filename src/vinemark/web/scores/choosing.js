/* Choosing among the changes of a file: all of a kind at once, and how many are chosen. */

const form = document.getElementById("take-form");
const match = document.getElementById("match-form");

function count() {
  const boxes = [...form.querySelectorAll("input[name=take]")];
  const button = document.getElementById("take-button");
  const unlisted = Number(button.dataset.words.match(/of (\d+)/)[1]) - boxes.length;
  button.textContent = button.dataset.words.replace("{n}", boxes.filter((box) => box.checked).length + unlisted);
}

form?.addEventListener("change", (event) => {
  const kind = event.target.dataset.checkAll;
  if (kind) for (const box of form.querySelectorAll(`input[data-kind=${kind}]`)) box.checked = event.target.checked;
  count();
});

/* What was chosen above is not what the changes below show until it is matched again. */
match?.addEventListener("change", (event) => {
  if (event.target.id === "sheet-name") { match.requestSubmit(); return; }
  document.getElementById("match-changed").hidden = false;
  const take = document.getElementById("take-button");
  if (take) take.disabled = true;
});

/* Every column that is only alike takes the item that it is like; what is taken is then shown. */
document.getElementById("use-all-alike")?.addEventListener("click", () => {
  for (const button of match.querySelectorAll("tbody button[data-fill^=column-]")) {
    document.getElementById(button.dataset.fill).value = button.dataset.value;
  }
  match.requestSubmit();
});

/* The list can be long: only the lines of a student or an item. */
document.getElementById("find-change")?.addEventListener("input", (event) => {
  const wanted = event.target.value.trim().toLocaleLowerCase();
  const rows = [...document.querySelectorAll("#change-list tbody tr")];
  for (const row of rows) row.hidden = Boolean(wanted) && !row.textContent.toLocaleLowerCase().includes(wanted);
  const shown = rows.filter((row) => !row.hidden).length;
  document.getElementById("changes-shown").textContent = wanted ? `${shown} of ${rows.length} shown` : "";
});
