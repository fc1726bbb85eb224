import { follow } from "./forms.js";

// The date handle: dragged, by keys, or by the date field. Steps are sent as months and days; the
// server computes the day in the garden's calendar.
const handle = () => document.getElementById("handle");

// wanted is the requested day that is not shown yet, with the steps from it, so that quick steps
// add up. One request runs at a time; the last day wins.
let wanted = null;
let busy = false;

// The page's own address, which after a refused form differs from location.
const today = () => document.getElementById("page").dataset.today;
const pathOn = ({ on, months = 0, days = 0 }) => {
  const own = document.querySelector(".day-form");
  const url = new URL(own ? own.action : location.href);
  if (url.pathname === location.pathname) url.search = location.search;
  else own.querySelectorAll("input[type=hidden]").forEach((el) => url.searchParams.set(el.name, el.value));
  for (const name of ["said", "on"]) url.searchParams.delete(name);
  if (on !== today() || months || days) url.searchParams.set("on", on);
  if (months) url.searchParams.set("months", months);
  if (days) url.searchParams.set("days", days);
  return url.pathname + url.search;
};

const nextFrame = () => new Promise((go) => requestAnimationFrame(go));

// pieces pairs the parts of an element with their replacements where both have the same structure;
// otherwise the element is one piece.
const alike = (a, b) => a.cloneNode(false).isEqualNode(b.cloneNode(false));
const bare = (el) => [...el.childNodes].every((n) => n.nodeType !== Node.TEXT_NODE || n.data.trim() === "");
const pieces = (was, is) => {
  const [a, b] = [[...was.children], [...is.children]];
  if (!alike(was, is) || !bare(was) || !bare(is) || a.length === 0 || a.length !== b.length) return [[was, is]];
  if (a.length === 1) return pieces(a[0], b[0]);
  return a.every((x, i) => alike(x, b[i])) ? a.map((x, i) => [x, b[i]]) : [[was, is]];
};

// swapDay swaps in the page of another day, by hand and over several frames so that none is long.
const swapDay = async (path) => {
  const answer = await fetch(path, { headers: { "HX-Request": "true" } });
  if (!answer.ok || answer.redirected) {
    location.assign(path);
    return;
  }
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
  const focus = document.activeElement && document.activeElement.id;
  const refocus = () => {
    const held = focus && document.getElementById(focus);
    if (held && held !== document.activeElement) held.focus({ preventScroll: true });
  };
  const take = (was, is) => {
    if (was.hasAttribute("hx-preserve")) return;
    // A field being edited is kept.
    for (const kept of was.querySelectorAll("[hx-preserve]")) {
      const place = kept.id && is.querySelector("#" + kept.id);
      if (place) place.replaceWith(kept);
    }
    const along = was.scrollLeft;
    was.replaceWith(document.adoptNode(is));
    if (along) is.scrollLeft = along;
    refocus();
  };
  // Forms on a page without a day are kept; only the plan is replaced.
  const undated = document.querySelector("#main > [data-undated]");
  for (const id of ["ribbon", "off-note", "main", "tabs", "rare-tabs"]) {
    if (id === "main" && undated) continue;
    const [was, is] = [document.getElementById(id), fresh.getElementById(id)];
    if (!was || !is) continue;
    for (const [old, now] of pieces(was, is)) {
      await nextFrame();
      take(old, now);
    }
  }
  document.title = fresh.title;
  const shown = handle();
  history.replaceState(null, "", shown ? pathOn({ on: shown.dataset.day }) : path);
  follow();
  await nextFrame();
  htmx.process(document.getElementById("page"));
  const form = undated && document.getElementById("bed-form");
  if (form) form.dispatchEvent(new Event("change", { bubbles: true }));
};

document.addEventListener("htmx:configRequest", (e) => {
  const on = new URLSearchParams(location.search).get("on");
  if (on && e.detail.verb === "get" && e.target.closest("[data-undated]")) e.detail.parameters.on = on;
});

const show = async (to) => {
  wanted = to;
  if (busy) return;
  busy = true;
  try {
    while (wanted !== null) {
      const next = wanted;
      await swapDay(pathOn(next));
      if (wanted === next) wanted = null;
    }
  } finally {
    busy = false;
  }
};

// move steps from the shown day; false if the page has no handle.
export const move = ({ months = 0, days = 0, back = false }) => {
  const h = handle();
  if (!h) return false;
  const from = back ? { on: today() } : wanted || { on: h.dataset.day };
  show({ on: from.on, months: (from.months || 0) + months, days: (from.days || 0) + days });
  return true;
};

export const steps = {
  "[": { months: -1 },
  "]": { months: 1 },
  "{": { months: -12 },
  "}": { months: 12 },
  t: { back: true },
};
const arrows = {
  ArrowLeft: { days: -1 },
  ArrowRight: { days: 1 },
  ArrowDown: { days: -7 },
  ArrowUp: { days: 7 },
  PageDown: { months: -1 },
  PageUp: { months: 1 },
};

document.addEventListener("keydown", (e) => {
  const h = e.target.closest && e.target.closest("#handle");
  if (h && arrows[e.key] && move(arrows[e.key])) e.preventDefault();
});

// A year wider than the screen scrolls to its handle.
const showHandle = () => {
  const strip = document.querySelector(".year-strip");
  const h = handle();
  if (!strip || !h || strip.scrollWidth <= strip.clientWidth) return;
  const svg = h.ownerSVGElement;
  strip.scrollLeft = (h.dataset.at / svg.viewBox.baseVal.width) * strip.scrollWidth - strip.clientWidth / 2;
};

document.addEventListener("pointerdown", (e) => {
  const h = e.target.closest("#handle");
  if (!h) return;
  e.preventDefault();
  h.focus();
  h.setPointerCapture(e.pointerId);
  const svg = h.ownerSVGElement;
  const at = (x) => {
    const inside =
      ((x - svg.getBoundingClientRect().left) / svg.getBoundingClientRect().width) * svg.viewBox.baseVal.width;
    const share = Math.min(1, Math.max(0, (inside - h.dataset.x) / h.dataset.w));
    return Math.round(share * h.dataset.days);
  };
  const label = h.querySelector("text");
  let days = null;
  const drag = (ev) => {
    days = at(ev.clientX);
    const x = Number(h.dataset.x) + (days / h.dataset.days) * h.dataset.w;
    h.setAttribute("transform", `translate(${x - h.dataset.at} 0)`);
    label.textContent = new Date(Date.parse(h.dataset.from) + days * 864e5).toLocaleDateString("en-GB", {
      day: "numeric",
      month: "short",
      year: "numeric",
      timeZone: "UTC",
    });
  };
  const drop = () => {
    h.removeEventListener("pointermove", drag);
    if (days !== null) show({ on: h.dataset.from, days });
  };
  h.addEventListener("pointermove", drag);
  h.addEventListener("pointerup", drop, { once: true });
  h.addEventListener("pointercancel", () => h.removeEventListener("pointermove", drag), { once: true });
});

showHandle();
