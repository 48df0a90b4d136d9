/* A field of a form: which it is, what it holds, and what it was saved with. */

const FIELD = ["input", "select", "textarea"].join();
const NOT_TYPED = ["hidden", "submit", "button", "search", "password", "file"].map((type) => `[type=${type}]`).join();
/* A form whose request only asks (a try, an effect) has nothing to save. */
const SAVES = "form[method=post]:not([data-asks]), [hx-post]:not([data-asks])";

const isBox = (field) => field.type === "checkbox" || field.type === "radio";
const lines = (text) => text.replace(/\r\n?/g, "\n");

export function saves(field) {
  if (!field.matches?.(FIELD) || field.matches(NOT_TYPED) || field.readOnly || field.disabled) return false;
  return Boolean(field.closest(SAVES)) && !field.closest("[data-view]");
}

export const all = () => [...document.querySelectorAll(FIELD)].filter(saves);

export function held(field) {
  return isBox(field) ? String(field.checked) : lines(field.value);
}

export function saved(field) {
  if (isBox(field)) return String(field.defaultChecked);
  if (field.tagName !== "SELECT") return lines(field.defaultValue);
  return ([...field.options].find((option) => option.defaultSelected) ?? field.options[0])?.value ?? "";
}

export function put(field, text) {
  if (held(field) === text) return;
  if (isBox(field)) field.checked = text === "true";
  else field.value = text;
}

/* What a refused form shows as its own value was only typed: the field goes on from what is saved. */
export function saveAs(field, text) {
  const typed = held(field);
  if (isBox(field)) field.defaultChecked = text === "true";
  else if (field.tagName !== "SELECT") field.defaultValue = text;
  else for (const option of field.options) option.defaultSelected = option.value === text;
  put(field, typed);
}

export function nameOf(field) {
  if (field.id) return field.id;
  const form = field.closest("form, [hx-post]");
  const address = form.getAttribute("action") ?? form.getAttribute("hx-post");
  return [address, field.name, isBox(field) ? field.value : ""].join(" ");
}

export const find = (name) => document.getElementById(name) ?? all().find((field) => nameOf(field) === name);

export function labelOf(field) {
  const words = field.getAttribute("aria-label") ?? field.labels?.[0]?.textContent ?? field.name;
  return words.replace(/\s+/g, " ").trim();
}

/* Why it was refused, where that stands beside it or beside another field of its form. */
export function reasonOf(field) {
  const places = (field.getAttribute("aria-describedby") ?? "").split(" ").filter(Boolean);
  const beside = places.map((place) => document.getElementById(place)).filter(Boolean);
  const said = beside.length ? beside : [...field.closest("form, [hx-post]").querySelectorAll("[role=alert]")];
  return said.map((one) => one.textContent.replace(/\s+/g, " ").replace(". Not saved yet.", "").trim()).join(" ");
}
