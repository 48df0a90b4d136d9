/* Find a student or an item from anywhere in a section: `/` opens it, arrows choose, Enter goes. */

const dialog = document.getElementById("find");
const typed = document.getElementById("find-typed");
const found = document.getElementById("found");
let back = null;

const options = () => [...found.querySelectorAll("[role=option]")];
const chosen = () => found.querySelector("[aria-selected=true]") ?? options()[0];

function choose(option) {
  for (const one of options()) one.setAttribute("aria-selected", String(one === option));
  if (option) typed.setAttribute("aria-activedescendant", option.id);
  else typed.removeAttribute("aria-activedescendant");
  option?.scrollIntoView({ block: "nearest" });
}

function open() {
  back = document.activeElement;
  typed.value = "";
  found.replaceChildren();
  typed.setAttribute("aria-expanded", "false");
  dialog.showModal();
  typed.focus();
}

function go(option) {
  if (!option) return;
  const here = new URL(option.href).pathname === location.pathname;
  dialog.close();
  if (!here) { location.href = option.href; return; }
  history.replaceState(null, "", option.hash);
  window.dispatchEvent(new HashChangeEvent("hashchange"));
}

if (dialog) {
  document.getElementById("open-find").addEventListener("click", open);
  document.addEventListener("keydown", (event) => {
    const held = event.ctrlKey || event.metaKey || event.altKey;
    const off = document.body.dataset.keys === "off";
    if (event.key !== "/" || held || off || document.querySelector("dialog[open]")) return;
    if (event.target.matches("input, textarea, select, [contenteditable]")) return;
    event.preventDefault();
    open();
  });
  typed.addEventListener("keydown", (event) => {
    const all = options();
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) { event.preventDefault(); choose(all[(all.indexOf(chosen()) + step + all.length) % all.length]); }
    if (event.key === "Enter") { event.preventDefault(); go(chosen()); }
  });
  found.addEventListener("htmx:afterSwap", () => {
    typed.setAttribute("aria-expanded", String(options().length > 0));
    choose(options()[0]);
  });
  found.addEventListener("click", (event) => {
    const option = event.target.closest("[role=option]");
    if (option) { event.preventDefault(); go(option); }
  });
  dialog.addEventListener("close", () => { if (document.activeElement === document.body) back?.focus?.(); });
}
