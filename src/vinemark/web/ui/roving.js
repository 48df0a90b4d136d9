/* One stop of Tab for a group of links or buttons: the arrow keys, Home and End go through it (WAI-ARIA practices). */

const GROUP = "[data-roving]";
const MEMBER = "a[href], button:not(:disabled)";
const STEPS = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 };

const members = (group) =>
  [...group.querySelectorAll(MEMBER)].filter((one) => one.checkVisibility() && !one.closest(".dropdown-menu"));

function stopOf(group, all) {
  const here = all.includes(document.activeElement) ? document.activeElement : null;
  return here ?? all.find((one) => one.ariaCurrent) ?? all.find((one) => one.dataset.stop) ?? all[0];
}

function arrange(group) {
  const all = members(group);
  const stop = stopOf(group, all);
  for (const one of all) {
    one.tabIndex = one === stop ? 0 : -1;
    if (one === stop) one.dataset.stop = "yes";
    else delete one.dataset.stop;
  }
}

/* In a list of rows up and down keep the place in the row; nothing to say about the other keys. */
function inRows(group, event) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!step) return undefined;
  const all = group.querySelectorAll(":scope > :not(details), :scope > details > *");
  const rows = [...all].filter((row) => members(row).length);
  const row = rows.findIndex((one) => one.contains(event.target));
  const next = rows[row + step];
  return next ? members(next)[Math.min(members(rows[row]).indexOf(event.target), members(next).length - 1)] : null;
}

function go(event) {
  const group = event.target.closest?.(GROUP);
  if (!group || event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return;
  if (!event.target.matches(MEMBER) || event.defaultPrevented || event.target.closest(".dropdown-menu")) return;
  /* Up and down open a menu of its own. */
  if (event.target.matches("[data-bs-toggle=dropdown]") && /^Arrow(Up|Down)$/.test(event.key)) return;
  const all = members(group);
  const beside = group.dataset.roving === "rows" ? inRows(group, event) : undefined;
  if (beside !== undefined) {
    event.preventDefault();
    beside?.focus();
    return;
  }
  const at = all.indexOf(event.target);
  const ends = { Home: 0, End: all.length - 1 }[event.key];
  if (at < 0 || (ends === undefined && !STEPS[event.key])) return;
  event.preventDefault();
  all[ends ?? (at + STEPS[event.key] + all.length) % all.length].focus();
}

/* Alt+Shift and a digit go to a step of the section; no single key, so that nothing typed is taken for it. */
function toStep(event) {
  if (!event.altKey || !event.shiftKey || event.ctrlKey || event.metaKey) return;
  const step = /^Digit([1-9])$/.exec(event.code)?.[1];
  const link = step && document.querySelectorAll("#rail .stem a")[Number(step) - 1];
  if (!link) return;
  event.preventDefault();
  link.click();
}

function arrangeAll() {
  for (const group of document.querySelectorAll(GROUP)) arrange(group);
}

arrangeAll();
document.addEventListener("keydown", go);
document.addEventListener("keydown", toStep);
document.addEventListener("focusin", (event) => {
  const group = event.target.closest?.(GROUP);
  if (group) arrange(group);
});
document.addEventListener("htmx:afterSettle", arrangeAll);
