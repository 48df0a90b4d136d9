/* Cutoffs of the strip dragged, or moved by the fields below it: a rehearsal; nothing is kept. */

const strip = document.querySelector(".strip");
const field = (letter) => document.querySelector(`[data-cutoff="${CSS.escape(letter)}"]`);
let held = null;

function percentAt(event, grip) {
  const box = strip.getBoundingClientRect();
  const low = Number(grip.dataset.low);
  const share = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
  return (low + share * (Number(grip.dataset.high) - low)).toFixed(1);
}

function show(grip, percent) {
  const low = Number(grip.dataset.low);
  const place = 1000 * (percent - low) / (Number(grip.dataset.high) - low);
  grip.querySelector(".strip-cut").setAttribute("d", `M${place} 46 V160`);
  const words = grip.querySelector("text");
  words.setAttribute("x", place);
  words.textContent = percent;
}

strip?.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest(".strip-handle");
  if (!grip || !field(grip.dataset.letter)) return;
  event.preventDefault();
  held = grip;
  strip.setPointerCapture(event.pointerId);
});

strip?.addEventListener("pointermove", (event) => {
  if (held) show(held, percentAt(event, held));
});

strip?.addEventListener("pointerup", (event) => {
  if (!held) return;
  const input = field(held.dataset.letter);
  input.closest("details").open = true;
  input.value = percentAt(event, held);
  held = null;
  input.form.dispatchEvent(new CustomEvent("moved", { bubbles: true }));
});

/* A field moves its line, so that both always say the same. */
document.addEventListener("input", (event) => {
  const letter = event.target.dataset.cutoff;
  const grip = letter && strip.querySelector(`[data-letter="${CSS.escape(letter)}"]`);
  if (grip && Number(event.target.value)) show(grip, event.target.value);
});
