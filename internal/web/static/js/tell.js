// The first of each of the program's terms on a page can be tapped for its explanation, which is in
// the page.
const tells = () =>
  [...document.querySelectorAll("[data-tell]")].map((d) => ({ id: d.id, forms: d.dataset.tell.split("|") }));
const not =
  "a, button, label, legend, select, option, textarea, svg, h1, h2, h3, th, b, summary, script, .sr, .print-only, dl, figure, " +
  ".tell, [role=button], .plan, [popover], .sky-ahead";

const mark = () => {
  const main = document.getElementById("main");
  if (!main) return;
  const left = tells().filter((t) => !main.querySelector(`.tell[popovertarget="${t.id}"]`));
  if (left.length === 0) return;
  const texts = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
  const found = [];
  while (texts.nextNode() && left.length > 0) {
    const node = texts.currentNode;
    if (node.parentElement.closest(not)) continue;
    for (const t of left) {
      const m = new RegExp(`\\b(${t.forms.join("|")})\\b`, "i").exec(node.data);
      if (m) {
        found.push([node, t.id, m.index, m[0].length]);
        left.splice(left.indexOf(t), 1);
        break; // one word of a stretch of text is enough
      }
    }
  }
  for (const [node, id, at, long] of found) {
    const word = node.splitText(at);
    word.splitText(long);
    const b = document.createElement("button");
    b.type = "button";
    b.className = "tell";
    b.setAttribute("popovertarget", id);
    word.replaceWith(b);
    b.append(word);
  }
};
document.addEventListener("htmx:afterSettle", mark);
mark();
