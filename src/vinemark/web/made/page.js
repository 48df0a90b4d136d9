// Opens the file once it is made, where its page waited for it.

document.body.addEventListener("htmx:afterSettle", () => {
  const ready = document.querySelector("#progress a[data-ready]");
  if (ready) location.assign(ready.href);
});
