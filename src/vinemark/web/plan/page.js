/* Items are dragged among categories; the keyboard has each item's own buttons for the same. */

function readyToDrag() {
  for (const list of document.querySelectorAll("ul[data-sortable]")) {
    if (list.dataset.ready === "yes" && Sortable.get(list)) continue;
    list.dataset.ready = "yes";
    Sortable.create(list, {
      group: "items",
      draggable: "li[data-item]",
      filter: "input, select, button, .chip-panel",
      preventOnFilter: false,
      animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
      delay: 150,
      delayOnTouchOnly: true,
      onEnd: dropped,
    });
  }
}

function dropped(event) {
  if (event.from === event.to && event.oldDraggableIndex === event.newDraggableIndex) return;
  htmx.ajax("POST", event.to.dataset.sortable, {
    source: event.to,
    target: "#work",
    swap: "morph:outerHTML",
    values: { item: event.item.dataset.item, category: event.to.dataset.category, place: event.newDraggableIndex },
  });
}

readyToDrag();
document.addEventListener("htmx:afterSettle", readyToDrag);

/* What was chosen in a small menu leaves the focus on the words it belongs to, not nowhere. */
document.addEventListener("htmx:beforeRequest", (event) => {
  const menu = event.detail.elt.closest?.(".dropdown-menu");
  const words = menu?.previousElementSibling;
  if (!words?.matches("[data-bs-toggle]")) return;
  bootstrap.Dropdown.getInstance(words)?.hide();
  words.focus();
});

/* The items of a category are one stop of Tab; the arrow keys go along them. */
document.addEventListener("keydown", (event) => {
  const along = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  const chip = event.target.closest?.(".items > li > .chip > summary");
  if (!along || !chip) return;
  const chips = [...chip.closest(".items").querySelectorAll(":scope > li > .chip > summary")];
  const next = chips[chips.indexOf(chip) + along];
  if (!next) return;
  event.preventDefault();
  next.focus();
});

document.addEventListener("click", (event) => {
  const all = event.target.closest("[data-choose-all]");
  if (!all) return;
  const boxes = [...all.closest("fieldset").querySelectorAll("input[type=checkbox]")];
  const wanted = boxes.some((box) => !box.checked);
  for (const box of boxes) box.checked = wanted;
});

/* A rule and its clause light each other, by focus or pointer. */
const lit = (place) => {
  for (const old of document.querySelectorAll(".lit")) old.classList.remove("lit");
  const rules = new Set((place?.dataset.rules ?? "").split(" ").filter(Boolean));
  if (!rules.size) return;
  for (const other of document.querySelectorAll("[data-rules]")) {
    if (other !== place && other.dataset.rules.split(" ").some((rule) => rules.has(rule))) other.classList.add("lit");
  }
};
for (const kind of ["focusin", "mouseover"]) {
  document.addEventListener(kind, (event) => lit(event.target.closest?.("[data-rules]")));
}

/* The sentences of a syllabus are one stop of Tab; the arrow keys go along them. */
document.addEventListener("keydown", (event) => {
  if (!event.target.classList?.contains("sent")) return;
  if (event.key === "Enter" || event.key === " ") { event.preventDefault(); event.target.click(); return; }
  const along = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
  if (!along) return;
  const all = [...document.querySelectorAll("#syllabus-sentences .sent[role=button]")];
  const next = all[all.indexOf(event.target) + along];
  if (!next) return;
  event.preventDefault();
  event.target.tabIndex = -1;
  next.tabIndex = 0;
  next.focus();
});
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id === "pointed") document.getElementById("point-kind")?.focus();
});

/* In the row of a category: Alt+Shift+N adds one, Alt+Shift+R removes it, Alt+Shift+J joins it to the one above. */
const FACT_KEYS = { KeyN: "add", KeyR: "remove", KeyJ: "merge" };
document.addEventListener("keydown", (event) => {
  const act = event.altKey && event.shiftKey && FACT_KEYS[event.code];
  const form = act && event.target.closest?.("#form-facts");
  if (!form) return;
  const button = act === "add"
    ? form.querySelector(".fact-row.new input")
    : event.target.closest(".fact-row")?.querySelector(`[data-key="${act}"]`);
  if (!button) return;
  event.preventDefault();
  if (act === "add") button.focus(); else button.click();
});

/* A file dropped on the form goes into its field and is read at once. */
for (const kind of ["dragover", "dragleave", "drop"]) {
  document.addEventListener(kind, (event) => {
    const zone = event.target.closest?.("[data-drop]");
    if (!zone) return;
    event.preventDefault();
    zone.classList.toggle("over", kind === "dragover");
    if (kind !== "drop" || !event.dataTransfer.files.length) return;
    const field = zone.querySelector("input[type=file]");
    field.files = event.dataTransfer.files;
    field.form.requestSubmit();
  });
}

/* The small menus of rules: Home, End and the first letter of a choice, as menus have them (WAI-ARIA practices). */
document.addEventListener("keydown", (event) => {
  const menu = event.target.closest?.(".dropdown-menu[role=menu].show");
  if (!menu || event.target.matches("input") || event.ctrlKey || event.altKey || event.metaKey) return;
  const items = [...menu.querySelectorAll(".dropdown-item")];
  const ends = { Home: items[0], End: items.at(-1) }[event.key];
  const at = items.indexOf(document.activeElement);
  const inTurn = [...items.slice(at + 1), ...items.slice(0, at + 1)];
  const letter = event.key.length === 1 && event.key !== " " ? event.key.toLowerCase() : "";
  const next = ends ?? (letter && inTurn.find((one) => one.textContent.trim().toLowerCase().startsWith(letter)));
  if (!next) return;
  event.preventDefault();
  next.focus();
});
