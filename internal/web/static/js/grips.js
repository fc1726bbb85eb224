import { field, metres, near, put, spot, tenth } from "./fields.js";

// The grips of the bed being placed: resize and rotate.
const grip = (target) => target.closest && target.closest("#new-plan .grip");
const sizeTo = (w, h) =>
  put(field("shape").value === "circle" ? { w: Math.max(0.1, w, h) } : { w: Math.max(0.1, w), h: Math.max(0.1, h) });
const turnTo = (degrees) => put({ turn: (((Math.round(degrees / 5) * 5) % 360) + 360) % 360 });

document.addEventListener(
  "keydown",
  (e) => {
    const g = grip(e.target);
    const by = g && { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    if (g.dataset.does === "turn") turnTo(metres("turn") + (by[0] + by[1] > 0 ? 5 : -5));
    else if (field("shape").value === "circle") put({ w: Math.max(0.1, metres("w") + by[0] + by[1]) });
    else sizeTo(metres("w") + by[0], metres("h") + by[1]);
  },
  true,
);

// edgesNear returns the nearby edge of a neighbour, else the position itself.
const edgesNear = (svg, at) => {
  const d = svg.dataset;
  const best = [near, near];
  for (const other of svg.querySelectorAll("a.plot:not(#bed--1) .shape")) {
    const b = other.getBBox();
    const along = [
      [b.x, b.x + b.width].map((x) => Number(d.left) + (x - d.marginX) / d.scale),
      [b.y, b.y + b.height].map((y) => Number(d.top) + (y - d.marginY) / d.scale),
    ];
    for (const axis of [0, 1]) {
      for (const edge of along[axis]) {
        if (Math.abs(edge - at[axis]) < best[axis]) {
          best[axis] = Math.abs(edge - at[axis]);
          at[axis] = edge;
        }
      }
    }
  }
  return at;
};

document.addEventListener("pointerdown", (e) => {
  const g = grip(e.target);
  if (!g) return;
  e.preventDefault();
  g.focus();
  g.setPointerCapture(e.pointerId);
  const svg = g.ownerSVGElement;
  const d = svg.dataset;
  const mid = [Number(d.midX), Number(d.midY)];
  const zoom = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  let at = null;
  const drag = (ev) => {
    at = spot(svg, ev);
    g.setAttribute("transform", `translate(${(ev.clientX - e.clientX) * zoom} ${(ev.clientY - e.clientY) * zoom})`);
  };
  g.addEventListener("pointermove", drag);
  g.addEventListener(
    "pointerup",
    () => {
      g.removeEventListener("pointermove", drag);
      if (at === null) return;
      if (g.dataset.does === "turn") {
        turnTo((Math.atan2(at[0] - mid[0], mid[1] - at[1]) * 180) / Math.PI);
        return;
      }
      const turn = (metres("turn") * Math.PI) / 180;
      if (turn === 0) at = edgesNear(svg, at);
      const [x, y] = [at[0] - mid[0], at[1] - mid[1]];
      const size = [
        x * Math.cos(turn) + y * Math.sin(turn) + metres("w") / 2,
        y * Math.cos(turn) - x * Math.sin(turn) + metres("h") / 2,
      ];
      sizeTo(...(turn === 0 ? size : size.map(tenth)));
    },
    { once: true },
  );
  g.addEventListener(
    "pointercancel",
    () => {
      g.removeEventListener("pointermove", drag);
      g.removeAttribute("transform");
    },
    { once: true },
  );
});
