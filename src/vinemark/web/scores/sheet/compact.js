/* While the rows are scrolled the headings keep to their names, and give the rest to the scores. */

import { sheet } from "./state.js";

const FAR = 120;
/* A sheet that is little longer than its box would jump to and fro as its headings change. */
const ROOM = 300;

export function startCompact() {
  const box = sheet.parentElement;
  box.addEventListener("scroll", () => {
    const room = box.scrollHeight - box.clientHeight > ROOM;
    const scrolled = sheet.classList.contains("scrolled");
    if (!scrolled && room && box.scrollTop > FAR) sheet.classList.add("scrolled");
    if (scrolled && box.scrollTop === 0) sheet.classList.remove("scrolled");
  }, { passive: true });
}
