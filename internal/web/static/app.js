// What the pages cannot do as plain requests: keys, printing, and fields that
// belong to one method of reading.
(() => {
  "use strict";

  const keysOff = "zephyrfield-keys-off";
  const pages = () => [...document.querySelectorAll("nav a[data-key]")];
  let waiting = false;

  const typing = (el) => el.closest("input, select, textarea, [contenteditable]") !== null;

  document.addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
    const dialog = document.getElementById("keys");
    if (e.key === "?") {
      e.preventDefault();
      dialog.showModal();
      return;
    }
    if (dialog.open || localStorage.getItem(keysOff)) return;
    if (waiting) {
      waiting = false;
      const page = pages().find((a) => a.dataset.key === e.key);
      if (page) {
        e.preventDefault();
        page.click();
      }
      return;
    }
    if (e.key === "/") {
      const find = document.getElementById("find");
      if (find) {
        e.preventDefault();
        find.focus();
      }
    } else if (e.key === "g") {
      waiting = true;
      setTimeout(() => { waiting = false; }, 1500);
    } else if (steps[e.key] && move(steps[e.key])) {
      e.preventDefault();
    } else if (e.key === "n") {
      location.assign("/bench" + (new URLSearchParams(location.search).get("bed") ? location.search : ""));
    }
  });

  // The date handle: dragged, moved by keys, or by the typed day beneath it.
  const day = (text) => new Date(text + "T00:00:00Z");
  const text = (date) => date.toISOString().slice(0, 10);
  const plus = (date, days) => new Date(date.getTime() + days * 864e5);
  const months = (date, n) => {
    const first = new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + n, 1));
    const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
    return plus(first, Math.min(date.getUTCDate(), last) - 1);
  };
  const handle = () => document.getElementById("handle");

  // wanted is the day asked for and not shown yet, so that quick steps add up.
  // One request runs at a time; the last day asked for wins.
  let wanted = null;
  let busy = false;

  // The page's own address: after a form that was not taken it is not the one in
  // the bar.
  const pathOn = (on) => {
    const own = document.querySelector(".day-form");
    const url = new URL(own ? own.action : location.href);
    if (url.pathname === location.pathname) url.search = location.search;
    else own.querySelectorAll("input[type=hidden]").forEach((el) => url.searchParams.set(el.name, el.value));
    url.searchParams.delete("said");
    if (on === document.getElementById("page").dataset.today) url.searchParams.delete("on");
    else url.searchParams.set("on", on);
    return url.pathname + url.search;
  };

  const nextFrame = () => new Promise((go) => requestAnimationFrame(go));

  // pieces pairs the parts of an element with those that take their place, as far
  // as both are made alike; else it is one piece.
  const alike = (a, b) => a.cloneNode(false).isEqualNode(b.cloneNode(false));
  const bare = (el) => [...el.childNodes].every((n) => n.nodeType !== Node.TEXT_NODE || n.data.trim() === "");
  const pieces = (was, is) => {
    const [a, b] = [[...was.children], [...is.children]];
    if (!alike(was, is) || !bare(was) || !bare(is) || a.length === 0 || a.length !== b.length) return [[was, is]];
    if (a.length === 1) return pieces(a[0], b[0]);
    return a.every((x, i) => alike(x, b[i])) ? a.map((x, i) => [x, b[i]]) : [[was, is]];
  };

  // swapDay brings in the page of another day. It does so by hand and over
  // several frames, so that none of them is long.
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
      // What is being typed stays.
      for (const kept of was.querySelectorAll("[hx-preserve]")) {
        const place = kept.id && is.querySelector("#" + kept.id);
        if (place) place.replaceWith(kept);
      }
      was.replaceWith(document.adoptNode(is));
      refocus();
    };
    // What is entered on a page without a day of its own stays as it is; only the
    // plan beside it is asked for anew.
    const undated = document.querySelector("#main > [data-undated]");
    for (const id of ["ribbon", "off-note", "main", "tabs"]) {
      if (id === "main" && undated) continue;
      const [was, is] = [document.getElementById(id), fresh.getElementById(id)];
      if (!was || !is) continue;
      for (const [old, now] of pieces(was, is)) {
        await nextFrame();
        take(old, now);
      }
    }
    document.title = fresh.title;
    history.replaceState(null, "", path);
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

  const show = async (on) => {
    wanted = on;
    if (busy) return;
    busy = true;
    try {
      while (wanted !== null) {
        const next = wanted;
        const path = pathOn(next);
        await swapDay(path);
        if (wanted === next) wanted = null;
      }
    } finally {
      busy = false;
    }
  };

  // move steps from the day that is shown; false when the page has no handle.
  const move = (step) => {
    const h = handle();
    if (!h) return false;
    show(text(step(day(wanted || h.dataset.day))));
    return true;
  };

  const steps = {
    "[": (d) => months(d, -1), "]": (d) => months(d, 1), "{": (d) => months(d, -12), "}": (d) => months(d, 12),
    t: () => day(document.getElementById("page").dataset.today),
  };
  const arrows = {
    ArrowLeft: (d) => plus(d, -1), ArrowRight: (d) => plus(d, 1), ArrowDown: (d) => plus(d, -7), ArrowUp: (d) => plus(d, 7),
    PageDown: (d) => months(d, -1), PageUp: (d) => months(d, 1),
  };

  document.addEventListener("keydown", (e) => {
    const h = e.target.closest && e.target.closest("#handle");
    if (h && arrows[e.key] && move(arrows[e.key])) e.preventDefault();
  });

  document.addEventListener("pointerdown", (e) => {
    const h = e.target.closest("#handle");
    if (!h) return;
    e.preventDefault();
    h.focus();
    h.setPointerCapture(e.pointerId);
    const svg = h.ownerSVGElement;
    const at = (x) => {
      const inside = (x - svg.getBoundingClientRect().left) / svg.getBoundingClientRect().width * svg.viewBox.baseVal.width;
      const share = Math.min(1, Math.max(0, (inside - h.dataset.x) / h.dataset.w));
      return Math.round(share * h.dataset.days);
    };
    const label = h.querySelector("text");
    let days = null;
    const drag = (ev) => {
      days = at(ev.clientX);
      const x = Number(h.dataset.x) + days / h.dataset.days * h.dataset.w;
      h.setAttribute("transform", `translate(${x - h.dataset.at} 0)`);
      label.textContent = plus(day(h.dataset.from), days).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "UTC" });
    };
    const drop = () => {
      h.removeEventListener("pointermove", drag);
      if (days !== null) show(text(plus(day(h.dataset.from), days)));
    };
    h.addEventListener("pointermove", drag);
    h.addEventListener("pointerup", drop, { once: true });
    h.addEventListener("pointercancel", () => h.removeEventListener("pointermove", drag), { once: true });
  });

  // The bed that is being placed: dragged, or moved, sized and turned by keys.
  // The form's own fields hold what it is; the plan follows them.
  const field = (name) => document.querySelector(`#bed-form [name=${name}]`);
  const metres = (name) => parseFloat((field(name).value || "0").replace(",", ".")) || 0;
  const tenth = (m) => Math.round(m * 10) / 10;

  // put writes new values and lets the plan follow.
  const put = (values) => {
    for (const [name, value] of Object.entries(values)) field(name).value = String(Math.round(value * 1000) / 1000);
    field("name").dispatchEvent(new Event("change", { bubbles: true }));
  };

  const shift = (dx, dy) => {
    if (field("shape").value === "outline") {
      field("corners").value = field("corners").value.split("\n").filter((l) => l.trim()).map((l) => {
        const [x, y] = l.trim().split(/[ ;\t]+/).map((n) => parseFloat(n.replace(",", ".")));
        return `${Math.round((x + dx) * 1000) / 1000} ${Math.round((y + dy) * 1000) / 1000}`;
      }).join("\n");
      put({});
    } else {
      put({ x: Math.max(0, metres("x") + dx), y: Math.max(0, metres("y") + dy) });
    }
  };

  // snapped draws a move to the edges of neighbours that are near, else to
  // tenths of a metre.
  const snapped = (svg, me, dx, dy, scale) => {
    const near = 0.15;
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
          if (Math.abs(need - move) <= near && (best === null || Math.abs(need - move) < Math.abs(best - move))) best = need;
        }
      }
      return best === null ? tenth(move) : best;
    };
    return [along(dx, shape.x, shape.width, edges.x), along(dy, shape.y, shape.height, edges.y)];
  };

  // Corners of an outline or points of a line: set by a click or a tap, dragged,
  // moved by keys, taken out by Delete.
  const drawing = () => field("corners") !== null && (field("shape") === null || field("shape").value === "outline");
  const corners = () => field("corners").value.split("\n").filter((l) => l.trim()).map((l) => l.trim().split(/[ ;\t]+/).map((n) => parseFloat(n.replace(",", "."))));
  const putCorners = (list) => {
    field("corners").value = list.map((p) => p.map((n) => Math.round(n * 1000) / 1000).join(" ")).join("\n");
    field("corners").dispatchEvent(new Event("change", { bubbles: true }));
  };
  const spot = (svg, e) => {
    const box = svg.getBoundingClientRect();
    const zoom = svg.viewBox.baseVal.width / box.width;
    const d = svg.dataset;
    return [
      Math.max(0, tenth(Number(d.left) + ((e.clientX - box.left) * zoom - d.marginX) / d.scale)),
      Math.max(0, tenth(Number(d.top) + ((e.clientY - box.top) * zoom - d.marginY) / d.scale)),
    ];
  };
  const addCorner = (at) => {
    const list = corners();
    putCorners([...list, at]);
  };

  document.addEventListener("click", (e) => {
    const svg = e.target.closest && e.target.closest("#new-plan svg.plan");
    if (!svg || !drawing()) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    if (!e.target.closest(".corner, .grip, #bed--1")) addCorner(spot(svg, e));
  }, true);

  document.addEventListener("click", (e) => {
    if (!e.target.closest("[data-corner]")) return;
    // The next one lies a metre on from the last, where it can be taken hold of.
    const list = corners();
    const last = list[list.length - 1];
    if (last) addCorner([last[0] + 1, last[1]]);
    else {
      const d = document.querySelector("#new-plan svg.plan").dataset;
      addCorner([tenth(Number(d.left) + 1), tenth(Number(d.top) + 1)]);
    }
    // An earlier answer may settle first; the corner is in a later one.
    const id = "corner-" + (corners().length - 1);
    const hold = () => {
      const made = document.getElementById(id);
      if (!made) return;
      document.removeEventListener("htmx:afterSettle", hold);
      made.focus();
    };
    document.addEventListener("htmx:afterSettle", hold);
  });

  document.addEventListener("keydown", (e) => {
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
  }, true);

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
      hold.setAttribute("transform", `translate(${(to[0] - from[0]) * svg.dataset.scale} ${(to[1] - from[1]) * svg.dataset.scale})`);
    };
    hold.addEventListener("pointermove", drag);
    hold.addEventListener("pointerup", () => {
      hold.removeEventListener("pointermove", drag);
      if (to === null) return;
      const list = corners();
      list[n] = to;
      putCorners(list);
    }, { once: true });
    hold.addEventListener("pointercancel", () => {
      hold.removeEventListener("pointermove", drag);
      hold.removeAttribute("transform");
    }, { once: true });
  });

  // The grips of the bed that is placed: one sizes, one turns.
  const grip = (target) => target.closest && target.closest("#new-plan .grip");
  const sizeTo = (w, h) => put(field("shape").value === "circle" ? { w: Math.max(0.1, w, h) } : { w: Math.max(0.1, w), h: Math.max(0.1, h) });
  const turnTo = (degrees) => put({ turn: ((Math.round(degrees / 5) * 5) % 360 + 360) % 360 });

  document.addEventListener("keydown", (e) => {
    const g = grip(e.target);
    const by = g && { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    if (g.dataset.does === "turn") turnTo(metres("turn") + (by[0] + by[1] > 0 ? 5 : -5));
    else if (field("shape").value === "circle") put({ w: Math.max(0.1, metres("w") + by[0] + by[1]) });
    else sizeTo(metres("w") + by[0], metres("h") + by[1]);
  }, true);

  // edgesNear gives the edge of a neighbour that a place lies near, else the
  // place itself.
  const edgesNear = (svg, at) => {
    const d = svg.dataset;
    const near = [0.15, 0.15];
    for (const other of svg.querySelectorAll("a.plot:not(#bed--1) .shape")) {
      const b = other.getBBox();
      const along = [[b.x, b.x + b.width].map((x) => Number(d.left) + (x - d.marginX) / d.scale), [b.y, b.y + b.height].map((y) => Number(d.top) + (y - d.marginY) / d.scale)];
      for (const axis of [0, 1]) {
        for (const edge of along[axis]) {
          if (Math.abs(edge - at[axis]) < near[axis]) {
            near[axis] = Math.abs(edge - at[axis]);
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
    g.addEventListener("pointerup", () => {
      g.removeEventListener("pointermove", drag);
      if (at === null) return;
      if (g.dataset.does === "turn") {
        turnTo(Math.atan2(at[0] - mid[0], mid[1] - at[1]) * 180 / Math.PI);
        return;
      }
      const turn = metres("turn") * Math.PI / 180;
      if (turn === 0) at = edgesNear(svg, at);
      const [x, y] = [at[0] - mid[0], at[1] - mid[1]];
      const size = [x * Math.cos(turn) + y * Math.sin(turn) + metres("w") / 2, y * Math.cos(turn) - x * Math.sin(turn) + metres("h") / 2];
      sizeTo(...(turn === 0 ? size : size.map(tenth)));
    }, { once: true });
    g.addEventListener("pointercancel", () => {
      g.removeEventListener("pointermove", drag);
      g.removeAttribute("transform");
    }, { once: true });
  });

  // The levels of the jar.
  const level = (target) => target.closest && target.closest("#jar .level");
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
      mm = from + (e.clientY - ev.clientY) * zoom / svg.dataset.scale;
      l.setAttribute("transform", `translate(0 ${(from - mm) * svg.dataset.scale})`);
    };
    l.addEventListener("pointermove", drag);
    l.addEventListener("pointerup", () => {
      l.removeEventListener("pointermove", drag);
      putLevel(l, mm);
    }, { once: true });
    l.addEventListener("pointercancel", () => {
      l.removeEventListener("pointermove", drag);
      l.removeAttribute("transform");
    }, { once: true });
  });

  const placing = (target) => {
    const me = target.closest && target.closest("#new-plan a.plot");
    return me && me.id === "bed--1" ? me : null;
  };

  document.addEventListener("click", (e) => {
    // Beds of the preview lead nowhere: what was typed would be lost.
    if (e.target.closest && e.target.closest("#new-plan a.plot")) {
      e.preventDefault();
      e.stopImmediatePropagation();
    }
  }, true);

  // A finger on what can be dragged drags it, and does not scroll the page.
  document.addEventListener("touchstart", (e) => {
    if (placing(e.target) || level(e.target) || e.target.closest("#handle, #new-plan .corner, #new-plan .grip")) e.preventDefault();
  }, { passive: false });

  document.addEventListener("keydown", (e) => {
    const me = placing(e.target);
    if (!me) return;
    const by = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
    const freehand = field("shape").value === "outline";
    if (by && e.shiftKey && !freehand) put({ w: Math.max(0.1, metres("w") + by[0]), h: Math.max(0.1, metres("h") + by[1]) });
    else if (by && !e.shiftKey) shift(by[0], by[1]);
    else if (e.key === "," || e.key === ".") put({ turn: (metres("turn") + (e.key === "." ? 5 : -5)) % 360 });
    else return;
    e.preventDefault();
    e.stopPropagation();
  }, true);

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
      move = snapped(svg, me, (ev.clientX - from[0]) * zoom / scale, (ev.clientY - from[1]) * zoom / scale, scale);
      me.setAttribute("transform", `translate(${move[0] * scale} ${move[1] * scale})`);
    };
    me.addEventListener("pointermove", drag);
    me.addEventListener("pointerup", () => {
      me.removeEventListener("pointermove", drag);
      if (move[0] !== 0 || move[1] !== 0) shift(move[0], move[1]);
    }, { once: true });
    me.addEventListener("pointercancel", () => {
      me.removeEventListener("pointermove", drag);
      me.removeAttribute("transform");
    }, { once: true });
  });

  const keysOn = document.getElementById("keys-on");
  keysOn.checked = !localStorage.getItem(keysOff);
  keysOn.addEventListener("change", () => {
    if (keysOn.checked) localStorage.removeItem(keysOff);
    else localStorage.setItem(keysOff, "1");
  });

  // Shows the fields that go with what is chosen.
  const follow = () => {
    const shape = document.querySelector("[data-shape]");
    if (shape) document.querySelectorAll("[data-for]").forEach((el) => { el.hidden = !el.dataset.for.split(" ").includes(shape.value); });
    const way = document.querySelector("[data-texture]");
    if (way) document.querySelectorAll("[data-by]").forEach((el) => { el.hidden = !el.dataset.by.split(" ").includes(way.value || "told"); });
    document.querySelectorAll("[data-print], [data-keys], [data-probe-box], [data-wait]").forEach((el) => { el.hidden = false; });
  };
  document.addEventListener("change", follow);
  document.addEventListener("htmx:afterSettle", follow);
  follow();

  document.addEventListener("click", (e) => {
    if (e.target.closest("[data-print]")) window.print();
    if (e.target.closest("[data-keys]")) document.getElementById("keys").showModal();
  });

  // A probe at hand streams what it shows until it has settled; a second press
  // stops it before.
  let streaming = null;
  const stream = async (button) => {
    const where = button.dataset.shown;
    const says = document.getElementById("probe-fault");
    const bed = document.getElementById("bed");
    const own = streaming = {};
    const shown = [];
    button.setAttribute("aria-pressed", "true");
    says.textContent = "";
    try {
      while (streaming === own && shown.length < 30) {
        const query = new URLSearchParams({ n: shown.length, bed: bed ? bed.value : "", shown: shown.join(" ") });
        if (where !== "slurry") query.set("bottle", where);
        const answer = await (await fetch("/bench/probe?" + query)).json();
        if (streaming !== own) break;
        says.textContent = answer.error || "";
        if (answer.error) break;
        shown.push(answer.ph);
        const at = document.getElementById(where === "slurry" ? "tries" : "cal_" + where);
        at.value = where === "slurry" ? shown.join(" ") : String(answer.settled ? answer.at : answer.ph);
        if (where !== "slurry") document.getElementById("cal_date").value = document.getElementById("page").dataset.today;
        else if (answer.t !== undefined) document.getElementById("temp").value = String(answer.t);
        at.dispatchEvent(new Event("change", { bubbles: true }));
        if (answer.settled) break;
        await new Promise((done) => { setTimeout(done, 400); });
      }
    } catch {
      says.textContent = "The probe cannot be reached.";
    }
    button.setAttribute("aria-pressed", "false");
    if (streaming === own) streaming = null;
  };
  document.addEventListener("click", (e) => {
    const button = e.target.closest("[data-shown]");
    if (!button) return;
    const going = button.getAttribute("aria-pressed") === "true";
    streaming = null;
    if (!going) stream(button);
  });

  // The wait of a colour kit.
  let waits = 0;
  document.addEventListener("click", (e) => {
    const start = e.target.closest("[data-wait]");
    if (!start) return;
    clearInterval(waits);
    const until = Date.now() + start.dataset.wait * 1000;
    const tell = () => {
      const left = Math.max(0, Math.round((until - Date.now()) / 1000));
      start.parentElement.querySelector(".wait").textContent = left === 0 ? "Read it now" : `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}`;
      if (left === 0) clearInterval(waits);
    };
    tell();
    waits = setInterval(tell, 500);
  });

  // Choosing another bed opens its dose at once.
  const pick = document.getElementById("pick-bed");
  if (pick) pick.addEventListener("change", () => pick.form.requestSubmit());

  // The first field with a fault takes the focus.
  const wrong = document.querySelector("[aria-invalid=true]");
  if (wrong) wrong.focus();
})();
