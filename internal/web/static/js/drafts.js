// Drafts: form values survive reload and Back until saved or cleared; a form rendered with faults
// or for another version already has its values.
const forms = "form[method=post]:not(.buttons, .inline-form, .clear)";
// A draft is keyed by its address, so that a reading of one bed is no draft for another.
const page = () => {
  const asked = new URLSearchParams(location.search);
  for (const n of ["said", "on"]) asked.delete(n);
  return `${location.pathname}?${asked}`;
};
const at = (form) => `zephyrfield-draft ${page()} ${form.id || form.getAttribute("action") || ""}`;
const sentAt = "zephyrfield-sent";
const sent = () => JSON.parse(sessionStorage.getItem(sentAt) || "[]");
// A refused form comes back with its faults; its draft stays until it is accepted.
const refused = () => document.querySelector("[aria-invalid=true], .guard.stop[role=alert]") !== null;
const typed = (el) =>
  el.name && !["hidden", "password", "file", "submit", "button"].includes(el.type) && !el.form.matches("[data-queue]");
const fields = (form) => [...form.elements].filter(typed);
const worth = (form) => fields(form).length > 1;
const isDefault = (el) =>
  el.matches("select")
    ? [...el.options].every((o) => o.selected === o.defaultSelected) ||
      (el.selectedIndex === 0 && ![...el.options].some((o) => o.defaultSelected))
    : ["checkbox", "radio"].includes(el.type)
      ? el.checked === el.defaultChecked
      : el.value === el.defaultValue;
const key = (el) => (["checkbox", "radio"].includes(el.type) ? `${el.name}=${el.value}` : el.name);
const value = (el) => (["checkbox", "radio"].includes(el.type) ? el.checked : el.value);
const version = (form) => (form.elements.version ? form.elements.version.value : "");

const keep = (form) => {
  const changed = fields(form).filter((el) => !isDefault(el));
  if (changed.length === 0) sessionStorage.removeItem(at(form));
  else
    sessionStorage.setItem(
      at(form),
      JSON.stringify({ of: version(form), is: Object.fromEntries(fields(form).map((el) => [key(el), value(el)])) }),
    );
};

document.addEventListener("input", (e) => {
  const { form } = e.target;
  if (form && form.matches(forms) && worth(form)) keep(form);
});
document.addEventListener("submit", (e) => {
  if (e.target.matches(forms)) sessionStorage.setItem(sentAt, JSON.stringify([...sent(), at(e.target)]));
});

const clear = (form) => {
  sessionStorage.removeItem(at(form));
  form.reset();
  form.dispatchEvent(new Event("change", { bubbles: true }));
};

const bring = () => {
  // An accepted form is no draft any more.
  if (!refused()) {
    sent().forEach((key) => sessionStorage.removeItem(key));
    sessionStorage.removeItem(sentAt);
  }
  for (const form of document.querySelectorAll(forms)) {
    const kept = worth(form) && sessionStorage.getItem(at(form));
    if (!kept) continue;
    const { of, is } = JSON.parse(kept);
    if (refused()) continue; // what was typed stands in the form itself
    if (of !== version(form)) {
      // it was changed meanwhile
      sessionStorage.removeItem(at(form));
      continue;
    }
    let changed = false;
    for (const el of fields(form)) {
      if (!(key(el) in is) || value(el) === is[key(el)]) continue;
      changed = true;
      const fold = el.closest("details");
      if (fold) fold.open = true; // what is brought back is seen
      if (["checkbox", "radio"].includes(el.type)) el.checked = is[key(el)];
      else el.value = is[key(el)];
    }
    if (!changed) continue;
    const says = document.createElement("p");
    says.className = "guard note draft-kept";
    says.setAttribute("role", "status");
    says.append("What you had typed here is kept. ");
    const no = document.createElement("button");
    no.type = "button";
    no.className = "tiny";
    no.textContent = "Clear it";
    no.addEventListener("click", () => {
      clear(form);
      says.remove();
    });
    says.append(no);
    form.prepend(says);
    form.dispatchEvent(new Event("change", { bubbles: true }));
  }
};
bring();

// Handles input that preceded the scripts.
window.addEventListener("load", () => {
  for (const form of document.querySelectorAll("form[hx-get]")) {
    const early = fields(form).find((el) => !isDefault(el));
    if (!early) continue;
    early.dispatchEvent(new Event("input", { bubbles: true }));
    early.dispatchEvent(new Event("change", { bubbles: true }));
  }
});
