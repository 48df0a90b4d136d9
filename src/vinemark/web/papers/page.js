/* Papers: print. Tokens are sent with nothing here, for nothing here writes. */

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});
document.addEventListener("submit", (event) => event.preventDefault());
