// Folded parts on a phone keep their state when the answer is replaced.
let open = [];
const folds = () => document.querySelectorAll("details.fold, details.keeps-open");
document.addEventListener("htmx:beforeSwap", () => {
  open = [...folds()].filter((d) => d.open).map((d) => d.id);
});
document.addEventListener("htmx:afterSettle", () => {
  folds().forEach((d) => {
    if (open.includes(d.id)) d.open = true;
  });
});

// A link to a folded part opens it.
document.addEventListener("click", (e) => {
  const link = e.target.closest("a[href^='#']");
  const to = link && document.getElementById(link.hash.slice(1));
  if (to && to.matches("details.fold")) to.open = true;
});
