// Dragging a stake of the year to another day opens the page that shows the consequences; by
// keyboard the page opens with a date field.
const least = 6;
let dragged = false;
document.addEventListener(
  "click",
  (e) => {
    if (dragged && e.target.closest("[data-task]")) e.preventDefault();
  },
  true,
);

document.addEventListener("dragstart", (e) => {
  if (e.target.closest("[data-task]")) e.preventDefault();
});
document.addEventListener("pointerdown", (e) => {
  const stake = e.target.closest("[data-task]");
  const handle = document.getElementById("handle");
  if (!stake || !handle || e.button !== 0) return;
  const svg = stake.ownerSVGElement;
  const { from, days, w } = handle.dataset;
  const zoom = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  const label = stake.querySelector("text");
  const was = label && label.textContent;
  let moved = null;
  const drag = (ev) => {
    const by = (ev.clientX - e.clientX) * zoom;
    if (moved === null && Math.abs(by) < least) return;
    const at = Math.min(Number(days), Math.max(0, Number(stake.dataset.at) + Math.round((by / w) * days)));
    moved = at;
    stake.setAttribute("transform", `translate(${((at - stake.dataset.at) / days) * w} 0)`);
    if (label) {
      label.textContent = new Date(Date.parse(from) + at * 864e5).toLocaleDateString("en-GB", {
        day: "numeric",
        month: "short",
        timeZone: "UTC",
      });
    }
  };
  const end = (drop) => {
    document.removeEventListener("pointermove", drag);
    document.removeEventListener("pointerup", up);
    document.removeEventListener("pointercancel", off);
    if (moved === null) return;
    dragged = true; // the click that ends a drag opens nothing
    setTimeout(() => {
      dragged = false;
    }, 0);
    if (drop) location.assign(`${stake.href.baseVal}?from=${from}&days=${moved}`);
    else {
      stake.removeAttribute("transform");
      if (label) label.textContent = was;
    }
  };
  const up = () => end(true);
  const off = () => end(false);
  document.addEventListener("pointermove", drag);
  document.addEventListener("pointerup", up);
  document.addEventListener("pointercancel", off);
});
