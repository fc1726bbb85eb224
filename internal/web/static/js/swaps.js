// An answer on its way takes the place of what stands on the page. What is typed or
// clicked while it comes is not lost with it.

// What would act on the old answer waits: a form names it.
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
// A request that was overtaken leaves it to the newer one; one that failed lets go.
document.addEventListener("htmx:sendError", () => {
  held.forEach((el) => {
    el.disabled = false;
  });
});

// What is being typed and was not yet sent goes into the field that takes its place, and is sent.
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

// A box whose place was taken between press and release is ticked all the same.
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

// A plan that is pressed or dragged stays under the hand: of a plan that gave way before the
// release the browser tells neither click nor drag. What came meanwhile is asked for anew.
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
