/* The rows that are submitted, filtered by where they stand. */

const shown = (row, wanted) => !wanted || row.dataset.states.split(" ").includes(wanted);

function filter() {
  const choice = document.getElementById("submit-show");
  if (!choice) return;
  const rows = [...document.querySelectorAll(".submit-table tbody tr")];
  for (const row of rows) row.hidden = !shown(row, choice.value);
  const count = rows.filter((row) => !row.hidden).length;
  document.getElementById("submit-count").textContent = `${count} of ${rows.length} shown`;
}

document.addEventListener("change", (event) => { if (event.target.id === "submit-show") filter(); });
document.addEventListener("htmx:afterSettle", filter);
