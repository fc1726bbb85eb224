// Selecting in the list of beds: all shown, a range with Shift, and arrow keys.
const boxes = (name) => [...document.querySelectorAll(`.choose input[name="${name}"]`)];
const stand = () =>
  document.querySelectorAll("[data-all]").forEach((all) => {
    all.hidden = false;
  });
let last = null;

// The buttons say how many beds they act on.
const count = () =>
  document.querySelectorAll("[data-each]").forEach((button) => {
    const n = boxes("bed").filter((b) => b.checked).length;
    if (n > 0) button.textContent = `${button.dataset.each} ${n} ${n === 1 ? "bed" : "beds"}`;
    else button.textContent = button.dataset.none;
  });
document.querySelectorAll("[data-each]").forEach((button) => {
  button.dataset.none = button.textContent.trim();
});

document.addEventListener("change", (e) => {
  const { all } = e.target.dataset;
  if (all)
    boxes(all).forEach((b) => {
      b.checked = e.target.checked;
    });
  count();
});

document.addEventListener("click", (e) => {
  if (!e.target.matches(".choose tbody input[type=checkbox]")) return;
  const list = boxes(e.target.name);
  const [a, b] = [list.indexOf(last), list.indexOf(e.target)];
  if (e.shiftKey && a >= 0)
    list.slice(Math.min(a, b), Math.max(a, b) + 1).forEach((x) => {
      x.checked = e.target.checked;
    });
  last = e.target;
});

document.addEventListener("keydown", (e) => {
  if (!e.target.matches(".choose input[type=checkbox]") || !["ArrowDown", "ArrowUp"].includes(e.key)) return;
  const list = [...document.querySelectorAll(".choose input[type=checkbox]")];
  const to = list[list.indexOf(e.target) + (e.key === "ArrowDown" ? 1 : -1)];
  if (to) to.focus();
  e.preventDefault();
});
document.addEventListener("htmx:afterSwap", stand);
document.addEventListener("htmx:afterSwap", count);
stand();
count();
