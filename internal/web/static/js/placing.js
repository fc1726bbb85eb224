import { corners, field, metres, near, put, setCorners, tenth } from "./fields.js";
import { level } from "./jar.js";

// The bed being placed: dragged, or moved, resized and rotated by keys. Its values are in the
// form's fields, which the plan previews.
const shift = (dx, dy) => {
  if (field("shape").value === "outline") {
    setCorners(corners().map(([x, y]) => [x + dx, y + dy]));
    put({});
  } else {
    put({ x: Math.max(0, metres("x") + dx), y: Math.max(0, metres("y") + dy) });
  }
};

// snapped snaps a move to nearby edges of neighbours, else to tenths of a metre.
const snapped = (svg, me, dx, dy, scale) => {
  const edges = { x: [], y: [] };
  for (const other of svg.querySelectorAll("a.plot")) {
    if (other === me) continue;
    for (const shape of other.querySelectorAll(".shape")) {
      const b = shape.getBBox();
      edges.x.push(b.x, b.x + b.width);
      edges.y.push(b.y, b.y + b.height);
    }
  }
  const shape = me.querySelector(".shape").getBBox();
  const along = (move, low, size, list) => {
    let best = null;
    for (const edge of list) {
      for (const own of [low, low + size]) {
        const need = (edge - own) / scale;
        if (Math.abs(need - move) <= near && (best === null || Math.abs(need - move) < Math.abs(best - move)))
          best = need;
      }
    }
    return best === null ? tenth(move) : best;
  };
  return [along(dx, shape.x, shape.width, edges.x), along(dy, shape.y, shape.height, edges.y)];
};

const placing = (target) => {
  const me = target.closest && target.closest("#new-plan a.plot");
  return me && me.id === "bed--1" ? me : null;
};

document.addEventListener(
  "click",
  (e) => {
    // Beds of the preview are no links, since following one would lose the input.
    if (e.target.closest && e.target.closest("#new-plan a.plot")) {
      e.preventDefault();
      e.stopImmediatePropagation();
    }
  },
  true,
);

// Touching a draggable element drags it instead of scrolling.
document.addEventListener(
  "touchstart",
  (e) => {
    if (placing(e.target) || level(e.target) || e.target.closest("#handle, #new-plan .corner, #new-plan .grip"))
      e.preventDefault();
  },
  { passive: false },
);

document.addEventListener(
  "keydown",
  (e) => {
    const me = placing(e.target);
    if (!me) return;
    const by = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
    const freehand = field("shape").value === "outline";
    if (by && e.shiftKey && !freehand)
      put({ w: Math.max(0.1, metres("w") + by[0]), h: Math.max(0.1, metres("h") + by[1]) });
    else if (by && !e.shiftKey) shift(by[0], by[1]);
    else if (e.key === "," || e.key === ".") put({ turn: (metres("turn") + (e.key === "." ? 5 : -5)) % 360 });
    else return;
    e.preventDefault();
    e.stopPropagation();
  },
  true,
);

document.addEventListener("pointerdown", (e) => {
  const me = placing(e.target);
  if (!me) return;
  e.preventDefault();
  me.focus();
  me.setPointerCapture(e.pointerId);
  const svg = me.ownerSVGElement;
  const scale = parseFloat(svg.dataset.scale);
  const zoom = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  const from = [e.clientX, e.clientY];
  let move = [0, 0];
  const drag = (ev) => {
    move = snapped(svg, me, ((ev.clientX - from[0]) * zoom) / scale, ((ev.clientY - from[1]) * zoom) / scale, scale);
    me.setAttribute("transform", `translate(${move[0] * scale} ${move[1] * scale})`);
  };
  me.addEventListener("pointermove", drag);
  me.addEventListener(
    "pointerup",
    () => {
      me.removeEventListener("pointermove", drag);
      if (move[0] !== 0 || move[1] !== 0) shift(move[0], move[1]);
    },
    { once: true },
  );
  me.addEventListener(
    "pointercancel",
    () => {
      me.removeEventListener("pointermove", drag);
      me.removeAttribute("transform");
    },
    { once: true },
  );
});
