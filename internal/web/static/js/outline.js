import { corners, field, setCorners, spot, tenth } from "./fields.js";

// Corners of an outline or points of a line: added by click or tap, dragged, moved by keys, deleted
// by Delete.
const drawing = () => field("corners") !== null && (field("shape") === null || field("shape").value === "outline");
const putCorners = (list) => {
  setCorners(list);
  field("corners").dispatchEvent(new Event("change", { bubbles: true }));
};
const addCorner = (at) => {
  const list = corners();
  putCorners([...list, at]);
};

document.addEventListener(
  "click",
  (e) => {
    const svg = e.target.closest("#new-plan svg.plan");
    if (!svg || !drawing()) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    if (!e.target.closest(".corner, .grip, #bed--1")) addCorner(spot(svg, e));
  },
  true,
);

document.addEventListener("click", (e) => {
  if (!e.target.closest("[data-corner]")) return;
  // The next corner is a metre from the last, where it can be grabbed.
  const list = corners();
  const last = list[list.length - 1];
  if (last) addCorner([last[0] + 1, last[1]]);
  else {
    const d = document.querySelector("#new-plan svg.plan").dataset;
    addCorner([tenth(Number(d.left) + 1), tenth(Number(d.top) + 1)]);
  }
  // An earlier response may arrive first; the corner is in a later one.
  const id = "corner-" + (corners().length - 1);
  const hold = () => {
    const made = document.getElementById(id);
    if (!made) return;
    document.removeEventListener("htmx:afterSettle", hold);
    made.focus();
  };
  document.addEventListener("htmx:afterSettle", hold);
});

document.addEventListener(
  "keydown",
  (e) => {
    const hold = e.target.closest && e.target.closest("#new-plan .corner");
    if (!hold) return;
    const by = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
    const n = Number(hold.dataset.n);
    const list = corners();
    if (by) {
      const far = e.shiftKey ? 10 : 1;
      list[n] = [Math.max(0, list[n][0] + far * by[0]), Math.max(0, list[n][1] + far * by[1])];
    } else if (e.key === "Delete" || e.key === "Backspace") list.splice(n, 1);
    else return;
    e.preventDefault();
    e.stopPropagation();
    putCorners(list);
  },
  true,
);

document.addEventListener("pointerdown", (e) => {
  const hold = e.target.closest && e.target.closest("#new-plan .corner");
  if (!hold) return;
  e.preventDefault();
  hold.focus();
  hold.setPointerCapture(e.pointerId);
  const svg = hold.ownerSVGElement;
  const n = Number(hold.dataset.n);
  const from = corners()[n];
  let to = null;
  const drag = (ev) => {
    to = spot(svg, ev);
    hold.setAttribute(
      "transform",
      `translate(${(to[0] - from[0]) * svg.dataset.scale} ${(to[1] - from[1]) * svg.dataset.scale})`,
    );
  };
  hold.addEventListener("pointermove", drag);
  hold.addEventListener(
    "pointerup",
    () => {
      hold.removeEventListener("pointermove", drag);
      if (to === null) return;
      const list = corners();
      list[n] = to;
      putCorners(list);
    },
    { once: true },
  );
  hold.addEventListener(
    "pointercancel",
    () => {
      hold.removeEventListener("pointermove", drag);
      hold.removeAttribute("transform");
    },
    { once: true },
  );
});
