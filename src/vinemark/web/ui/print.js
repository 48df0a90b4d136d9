/* What is printed from the browser: the college's paper, and on each page the section, the term and the date. */

const page = new CSSStyleSheet();
document.adoptedStyleSheets = [...document.adoptedStyleSheets, page];

const quoted = (text) => JSON.stringify(text.replace(/\s+/g, " ").trim());

function heads() {
  const paper = document.querySelector("meta[name=paper]")?.content ?? "letter";
  const wide = document.querySelector("#sheet") ? " landscape" : "";
  const where = document.querySelector(".crumbs, .document")?.textContent ?? document.title;
  const when = (document.querySelector(".today") ?? document.querySelector(".rail-foot span"))?.textContent ?? "";
  page.replaceSync(`@page {
    size: ${paper}${wide}; margin: 16mm 12mm 14mm;
    @top-left { content: ${quoted(where)}; font: 9pt sans-serif; }
    @top-right { content: ${quoted(when.replace(/^Today is /, ""))}; font: 9pt sans-serif; }
    @bottom-right { content: counter(page) " of " counter(pages); font: 9pt sans-serif; }
  }`);
}

window.addEventListener("beforeprint", heads);
