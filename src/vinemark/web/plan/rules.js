/* A requirement is built from words: what does not go with the chosen condition or effect cannot be chosen. */

const among = (said, value) => said.split(" ").includes(value);

function fit(form) {
  const condition = form.querySelector("select[name=condition]");
  if (!condition) return;
  const subjects = form.querySelector("select[data-subjects]");
  for (const option of subjects.options) {
    option.disabled = !among(option.dataset.kinds, condition.value);
  }
  if (subjects.selectedOptions[0]?.disabled) {
    subjects.value = [...subjects.options].find((option) => !option.disabled)?.value ?? "";
  }
  const each = form.querySelector("input[name=for_each]");
  const effect = form.querySelector("select[name=consequence]").value;
  each.disabled = !among(each.dataset.conditions, condition.value) || !among(each.dataset.consequences, effect);
  if (each.disabled) each.checked = false;
}

function fitAll() {
  for (const form of document.querySelectorAll("#rules form")) fit(form);
}

document.addEventListener("change", (event) => {
  const form = event.target.closest?.("#rules form");
  if (form && event.target.matches("select")) fit(form);
});
document.addEventListener("htmx:afterSettle", fitAll);

/* A rule that was added shows among the others; its panel closes. */
document.addEventListener("htmx:afterRequest", (event) => {
  const panel = event.detail.elt.closest?.(".add-rules details");
  if (!panel || event.detail.xhr.status >= 400) return;
  const now = document.getElementById(panel.id);
  if (!now) return;
  now.open = false;
  now.querySelector("summary").focus();
});
fitAll();
