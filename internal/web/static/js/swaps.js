// Keeps input and clicks that happen while a response is being swapped in.

// Elements that would act on the outdated response are disabled; a form names them.
let held = [];
document.addEventListener("htmx:beforeRequest", (e) => {
  const what = e.target.dataset.holds;
  if (!what) return;
  held = [...document.querySelectorAll(what)];
  held.forEach((el) => {
    el.disabled = true;
  });
});
document.addEventListener("htmx:afterRequest", (e) => {
  if (e.target.dataset.holds && e.detail.xhr.status !== 0)
    held.forEach((el) => {
      el.disabled = false;
    });
});
// An overtaken request leaves that to the newer one; a failed one re-enables them.
document.addEventListener("htmx:sendError", () => {
  held.forEach((el) => {
    el.disabled = false;
  });
});

// Unsent input is moved to the replacing field and sent.
let typed = null;
document.addEventListener("htmx:beforeSwap", (e) => {
  const el = document.activeElement;
  typed = null;
  if (!el.id || !e.detail.requestConfig.elt.contains(el)) return; // another form's answer
  if (!el.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea") || !e.detail.target.contains(el))
    return;
  if (el.value !== e.detail.requestConfig.parameters[el.name]) typed = el;
});
document.addEventListener("htmx:afterSwap", () => {
  const is = typed && document.getElementById(typed.id);
  if (is && is !== typed) {
    is.value = typed.value;
    if (typed.selectionStart !== null) is.setSelectionRange(typed.selectionStart, typed.selectionEnd); // a date has none
  }
});
// Only then does the new form listen.
document.addEventListener("htmx:afterSettle", () => {
  const is = typed && document.getElementById(typed.id);
  if (is && is !== typed) is.dispatchEvent(new Event("change", { bubbles: true }));
  typed = null;
});

// A checkbox replaced between press and release is still toggled.
const ticked = "input[type=checkbox], input[type=radio]";
let pressed = null;
document.addEventListener(
  "pointerdown",
  (e) => {
    const on = e.target.closest(`label, ${ticked}`);
    const box = on && (on.control || on);
    pressed = box && box.id && box.matches(ticked) ? { on, id: box.id, was: box.checked } : null;
  },
  true,
);
document.addEventListener(
  "pointerup",
  () => {
    const is = pressed && !pressed.on.isConnected && document.getElementById(pressed.id);
    if (is && is.checked === pressed.was) is.click();
    pressed = null;
  },
  true,
);

// A plan is not replaced while pressed or dragged, since the browser would fire neither click nor
// drag; the skipped response is requested again.
let hand = null;
let late = null;
document.addEventListener(
  "pointerdown",
  (e) => {
    if (e.isPrimary) hand = e.target.closest("#new-plan") ? e.pointerId : null;
  },
  true,
);
document.addEventListener("htmx:beforeSwap", (e) => {
  if (hand === null || e.detail.target.id !== "new-plan") return;
  e.detail.shouldSwap = false;
  late = e.detail.requestConfig.elt;
});
const free = (e) => {
  if (e.pointerId !== hand) return;
  hand = null;
  if (late) late.dispatchEvent(new Event("change", { bubbles: true }));
  late = null;
};
document.addEventListener("pointerup", free);
document.addEventListener("pointercancel", free);
