// Zooming and panning the plan by touch or wheel. Labels keep their size on the screen; the page
// has those that fit at each zoom step. At the highest zoom a metre is at least this many pixels.
const closest = 60;
let view = { zoom: 1, x: 0.5, y: 0.5 };
let shown = "";
const plan = () => document.querySelector(".ground .plan");
const buttons = () => document.querySelectorAll("[data-zoom]");
const most = (svg) => Math.max(10, closest / (Number(svg.dataset.scale) || closest));
const base = (svg) => ({ w: Number(svg.dataset.w), h: Number(svg.dataset.h) });
const within = (x, low, high) => Math.min(Math.max(x, low), Math.max(low, high));

// The element's size, read once a frame to avoid layout thrashing.
let size = null;
const measure = (svg) => {
  if (!size) size = { w: svg.clientWidth, h: svg.clientHeight };
  return size;
};

// The visible part of the drawing; the whole has the element's aspect ratio.
const part = (svg) => {
  const { w, h } = base(svg);
  const { w: across, h: down } = measure(svg);
  const tall = down / across;
  const whole = Math.max(w, h / tall);
  const wide = whole / view.zoom;
  const high = wide * tall;
  const place = (at, size, all) => (size >= all ? (all - size) / 2 : within(at * all - size / 2, 0, all - size));
  return { x: place(view.x, wide, w), y: place(view.y, high, h), wide, high };
};

// Touch and wheel events outnumber frames, so drawing is once a frame. A large garden is
// transformed as one picture meanwhile, with its labels hidden while zooming, and redrawn at rest.
const large = 80;
const rest = 140;
let asked = 0;
let resting = 0;
let drawn = null; // the part that was drawn last
const soon = () => {
  if (!asked) asked = requestAnimationFrame(frame);
};

function frame() {
  asked = 0;
  const svg = plan();
  const pane = svg && svg.querySelector(".pane");
  if (!pane || !drawn || svg.querySelectorAll(".plot").length <= large) return show();
  size = null;
  const p = part(svg);
  const k = drawn.wide / p.wide;
  if (Math.abs(k - 1) > 1e-6) svg.classList.add("moving");
  pane.style.transform = `translate(${drawn.x - p.x * k}px, ${drawn.y - p.y * k}px) scale(${k})`;
  clearTimeout(resting);
  resting = setTimeout(show, rest);
  return undefined;
}

function show() {
  cancelAnimationFrame(asked);
  clearTimeout(resting);
  asked = 0;
  const svg = plan();
  if (!svg) return;
  svg.dataset.live = "";
  size = null;
  if (!measure(svg).w) return;
  const p = part(svg);
  const pane = svg.querySelector(".pane");
  if (pane) pane.style.transform = "";
  svg.classList.remove("moving");
  drawn = p;
  svg.setAttribute("viewBox", `${p.x} ${p.y} ${p.wide} ${p.high}`);
  const scale = size.w / p.wide;
  svg.style.setProperty("--label", String(1 / scale));
  const steps = svg.dataset.steps
    .trim()
    .split(" ")
    .map((s) => s.split(":"));
  const step = steps.findLast(([, from]) => scale >= Number(from) - 0.001) || ["none"];
  if (svg.dataset.step !== step[0]) [svg.dataset.step] = step;
  svg.style.touchAction = view.zoom > 1 ? "none" : "pan-y";
  buttons().forEach((b) => {
    b.hidden = false;
    b.disabled = (b.dataset.zoom === "in" && view.zoom >= most(svg)) || (b.dataset.zoom !== "in" && view.zoom <= 1);
  });
}

// zoomBy zooms around a point of the screen.
const zoomBy = (by, clientX, clientY) => {
  const svg = plan();
  const r = svg.getBoundingClientRect();
  const fx = clientX === undefined ? 0.5 : (clientX - r.left) / r.width;
  const fy = clientY === undefined ? 0.5 : (clientY - r.top) / r.height;
  const was = part(svg);
  const at = [was.x + was.wide * fx, was.y + was.high * fy];
  view.zoom = within(view.zoom * by, 1, most(svg));
  const { w, h } = base(svg);
  const now = part(svg);
  view.x = (at[0] + now.wide * (0.5 - fx)) / w;
  view.y = (at[1] + now.high * (0.5 - fy)) / h;
  soon();
};

const moveBy = (dx, dy) => {
  // in screen pixels
  const svg = plan();
  const { w, h } = base(svg);
  const p = part(svg);
  const k = p.wide / measure(svg).w;
  view.x = (p.x + p.wide / 2 - dx * k) / w;
  view.y = (p.y + p.high / 2 - dy * k) / h;
  soon();
};

const fit = () => {
  view = { zoom: 1, x: 0.5, y: 0.5 };
  show();
};

document.addEventListener("click", (e) => {
  const b = e.target.closest("[data-zoom]");
  if (!b) return;
  if (b.dataset.zoom === "fit") fit();
  else zoomBy(b.dataset.zoom === "in" ? 1.6 : 1 / 1.6);
});

document.addEventListener(
  "wheel",
  (e) => {
    if (!e.target.closest(".ground .plan") || (view.zoom <= 1 && e.deltaY > 0)) return; // the page scrolls on
    e.preventDefault();
    zoomBy(Math.exp(-within(e.deltaY, -60, 60) / 150), e.clientX, e.clientY);
  },
  { passive: false },
);

document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || !e.target.closest || !e.target.closest(".ground .plan, .plan-zoom")) return;
  const arrow = { ArrowLeft: [60, 0], ArrowRight: [-60, 0], ArrowUp: [0, 60], ArrowDown: [0, -60] }[e.key];
  if (e.key === "+" || e.key === "=") zoomBy(1.6);
  else if (e.key === "-") zoomBy(1 / 1.6);
  else if (e.key === "0") fit();
  else if (arrow && view.zoom > 1) moveBy(...arrow);
  else return;
  e.preventDefault();
});

// A bed focused by keyboard is scrolled into view.
document.addEventListener("focusin", (e) => {
  const bed = e.target.closest && e.target.closest(".ground .plan a.plot");
  if (!bed || view.zoom <= 1 || !bed.matches(":focus-visible")) return;
  const svg = plan();
  const b = bed.querySelector(".shape").getBBox();
  const { w, h } = base(svg);
  view.x = (b.x + b.width / 2) / w;
  view.y = (b.y + b.height / 2) / h;
  show();
});

// One pointer pans, two pinch. A pan is not a click.
const down = new Map();
let pushed = false;
const spread = () => {
  const [a, b] = [...down.values()];
  return Math.hypot(a.x - b.x, a.y - b.y);
};
document.addEventListener("pointerdown", (e) => {
  if (!e.target.closest(".ground .plan") || e.button > 0) return;
  if (down.size === 0) pushed = false;
  down.set(e.pointerId, { x: e.clientX, y: e.clientY });
});
document.addEventListener("pointermove", (e) => {
  const was = down.get(e.pointerId);
  if (!was || !plan()) return;
  if (down.size === 2) {
    const before = spread();
    down.set(e.pointerId, { x: e.clientX, y: e.clientY });
    const [a, b] = [...down.values()];
    pushed = true;
    zoomBy(spread() / Math.max(before, 1), (a.x + b.x) / 2, (a.y + b.y) / 2);
    return;
  }
  const [dx, dy] = [e.clientX - was.x, e.clientY - was.y];
  if (view.zoom <= 1 || (!pushed && Math.hypot(dx, dy) < 6)) return;
  pushed = true;
  down.set(e.pointerId, { x: e.clientX, y: e.clientY });
  moveBy(dx, dy);
});
const up = (e) => {
  down.delete(e.pointerId);
};
document.addEventListener("pointerup", up);
document.addEventListener("pointercancel", up);
document.addEventListener(
  "click",
  (e) => {
    if (!pushed || !e.target.closest(".ground .plan")) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    pushed = false;
  },
  true,
);
document.addEventListener("dragstart", (e) => {
  if (e.target.closest && e.target.closest(".ground .plan")) e.preventDefault();
});

// Another garden, or changed beds, resets the view; choosing a bed does not.
const stand = () => {
  const svg = plan();
  if (!svg) return;
  const is = `${svg.dataset.left} ${svg.dataset.top} ${svg.dataset.scale}`;
  if (is !== shown) view = { zoom: 1, x: 0.5, y: 0.5 };
  shown = is;
  show();
};
document.addEventListener("htmx:afterSwap", stand);
window.addEventListener("resize", show);
stand();
