/* The margin beside the work: folded where the window is wide, a drawer over the work where it is narrow. */

const box = document.querySelector(".work-and-margin");
const button = document.getElementById("toggle-margin");
const narrow = matchMedia("(max-width: 1100px)");

const isOpen = () => (narrow.matches ? box.classList.contains("drawer") : !box.classList.contains("folded"));
const tell = () => button.setAttribute("aria-expanded", String(isOpen()));

function set(open) {
  if (narrow.matches) {
    box.classList.toggle("drawer", open);
  } else {
    box.classList.toggle("folded", !open);
    document.cookie = `vinemark-margin=${open ? "" : "folded"}; path=/; samesite=lax; max-age=31536000`;
  }
  tell();
}

export const open = () => { if (box && !isOpen()) set(true); };

let back = null;

/* Alt+Shift+M goes from the work to the margin, and back to where one was. */
function across(event) {
  if (!event.altKey || !event.shiftKey || event.ctrlKey || event.metaKey || event.code !== "KeyM") return;
  event.preventDefault();
  const margin = document.getElementById("margin");
  if (margin.contains(document.activeElement)) {
    (back?.isConnected ? back : document.getElementById("work")).focus();
    return;
  }
  back = document.activeElement;
  set(true);
  const first = margin.querySelector("input:not([type=hidden]), a[href], button, select, summary, [tabindex='0']");
  (first ?? button).focus();
}

function close() {
  set(false);
  button.focus();
}

if (box && button) {
  tell();
  narrow.addEventListener("change", tell);
  button.addEventListener("click", () => set(!isOpen()));
  document.addEventListener("keydown", across);
  document.addEventListener("click", (event) => {
    if (narrow.matches && event.target.closest("[data-opens-margin]")) set(true);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && narrow.matches && isOpen() && !event.defaultPrevented) close();
  });
}
