import { field, metres } from "./fields.js";

// The draggable levels of the jar.
export const level = (target) => target.closest && target.closest("#jar .level");
const putLevel = (l, mm) => {
  const f = field(l.dataset.field);
  f.value = String(Math.min(Number(l.getAttribute("aria-valuemax")), Math.max(0, Math.round(mm))));
  f.dispatchEvent(new Event("change", { bubbles: true }));
};

document.addEventListener("keydown", (e) => {
  const l = level(e.target);
  const by = l && { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[e.key];
  if (!by) return;
  e.preventDefault();
  putLevel(l, metres(l.dataset.field) + by);
});

document.addEventListener("pointerdown", (e) => {
  const l = level(e.target);
  if (!l) return;
  e.preventDefault();
  l.focus();
  l.setPointerCapture(e.pointerId);
  const svg = l.ownerSVGElement;
  const zoom = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  const from = metres(l.dataset.field);
  let mm = from;
  const drag = (ev) => {
    mm = from + ((e.clientY - ev.clientY) * zoom) / svg.dataset.scale;
    l.setAttribute("transform", `translate(0 ${(from - mm) * svg.dataset.scale})`);
  };
  l.addEventListener("pointermove", drag);
  l.addEventListener(
    "pointerup",
    () => {
      l.removeEventListener("pointermove", drag);
      putLevel(l, mm);
    },
    { once: true },
  );
  l.addEventListener(
    "pointercancel",
    () => {
      l.removeEventListener("pointermove", drag);
      l.removeAttribute("transform");
    },
    { once: true },
  );
});
