/* The list of grades: filtered, sorted, and gone through by keyboard. */

const show = document.getElementById("settle-show");
const sort = document.getElementById("settle-sort");
const body = document.querySelector(".settle-table tbody");
const inOrder = body ? [...body.rows] : [];

function filter() {
  const wanted = show.value;
  const rows = [...body.rows];
  for (const row of rows) row.hidden = Boolean(wanted) && !row.dataset.states.split(" ").includes(wanted);
  count();
}

/* A row that was just settled stays in sight until the list is filtered again. */
function count() {
  const rows = [...body.rows];
  const shown = rows.filter((row) => !row.hidden).length;
  document.getElementById("settle-count").textContent = `${shown} of ${rows.length} shown`;
}

function order() {
  const names = inOrder.map((row) => row.id);
  const rows = [...body.rows];
  const by = { up: 1, down: -1, near: 1 }[sort.value];
  const near = sort.value === "near";
  const figure = ({ dataset }) => Number(near ? dataset.short || 1000 : dataset.percent || -1);
  const name = (row) => names.indexOf(row.id);
  rows.sort((one, other) => (by ? by * (figure(one) - figure(other)) : name(one) - name(other)));
  body.append(...rows);
  body.parentElement.classList.toggle("near-first", sort.value === "near");
}

show?.addEventListener("change", filter);
document.addEventListener("htmx:afterSettle", () => body?.isConnected && count());
sort?.addEventListener("change", order);

/* "=" in a code field takes the computed grade and goes on to the next student. */
body?.addEventListener("keydown", (event) => {
  const code = event.target.closest(".code[data-computed]");
  if (!code || event.key !== "=") return;
  event.preventDefault();
  if (!code.dataset.computed || code.readOnly) return;
  code.value = code.dataset.computed;
  code.dispatchEvent(new Event("change", { bubbles: true }));
  const codes = [...body.querySelectorAll("tr:not([hidden]) .code[data-computed]")];
  codes[codes.indexOf(code) + 1]?.focus();
});

/* Enter in the list of grades goes down to the next student's code. */
document.addEventListener("keydown", (event) => {
  const code = event.target.closest?.(".settle-table .code:not(.small)");
  if (!code || (event.key !== "Enter" && event.key !== "Escape")) return;
  if (event.key === "Escape") { code.value = code.defaultValue; return; }
  event.preventDefault();
  const codes = [...document.querySelectorAll(".settle-table tr:not([hidden]) .code:not(.small)")];
  const next = codes[codes.indexOf(code) + (event.shiftKey ? -1 : 1)];
  if (next) { next.focus(); next.select(); } else { code.blur(); }
});

/* Of the rows one is a stop of Tab, with its own fields after its grade; Enter goes on to the next row. */
const FIELDS = "input:not([type=hidden]), button, select, a[href]";

function arrange(current) {
  const rows = [...(document.querySelector(".settle-table tbody")?.rows ?? [])];
  const stop = current ?? rows.find((row) => row.dataset.stop) ?? rows.find((row) => row.querySelector(FIELDS));
  for (const row of rows) {
    row === stop ? (row.dataset.stop = "yes") : delete row.dataset.stop;
    for (const field of row.querySelectorAll(FIELDS)) {
      const idle = field.matches(".faint") && !field.value;
      field.tabIndex = row === stop && !idle ? 0 : -1;
    }
  }
}

/* The margin tells of the student whose row has the focus. */
let told = "";
let asking = 0;

function tell(row, again = false) {
  const about = document.getElementById("about");
  if (!about || !row || (row.id === told && !again)) return;
  told = row.id;
  clearTimeout(asking);
  const address = about.dataset.about.replace("STUDENT", encodeURIComponent(row.id.replace("row-", "")));
  asking = setTimeout(() => htmx.ajax("GET", address, { target: "#about", swap: "innerHTML" }), 160);
}

arrange();
document.addEventListener("focusin", (event) => {
  const row = event.target.closest?.(".settle-table tbody tr");
  if (row) { arrange(row); tell(row); }
});
document.addEventListener("htmx:afterSettle", ({ target }) => {
  if (target.matches(".settle-table tr") && target.id === told) tell(target, true);
  arrange(document.activeElement?.closest?.(".settle-table tbody tr"));
});
