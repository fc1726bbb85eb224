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
    if (e.key === "g") {
      waiting = true;
      setTimeout(() => { waiting = false; }, 1500);
    } else if (e.key === "n") {
      location.assign("/bench" + (new URLSearchParams(location.search).get("bed") ? location.search : ""));
    }
  });

  const keysOn = document.getElementById("keys-on");
  keysOn.checked = !localStorage.getItem(keysOff);
  keysOn.addEventListener("change", () => {
    if (keysOn.checked) localStorage.removeItem(keysOff);
    else localStorage.setItem(keysOff, "1");
  });

  // Shows the fields that go with what is chosen.
  const follow = () => {
    const method = document.querySelector("[data-method]");
    if (method) {
      const fizz = method.value === "fizz";
      document.querySelectorAll("[data-fizz]").forEach((el) => { el.hidden = !fizz; });
      document.querySelectorAll("[data-not-fizz]").forEach((el) => { el.hidden = fizz; });
    }
    const kind = document.querySelector("[data-kind]");
    if (kind) document.querySelectorAll("[data-rings]").forEach((el) => { el.hidden = kind.value !== "tree"; });
    document.querySelectorAll("[data-print], [data-keys]").forEach((el) => { el.hidden = false; });
  };
  document.addEventListener("change", follow);
  document.addEventListener("htmx:afterSettle", follow);
  follow();

  document.addEventListener("click", (e) => {
    if (e.target.closest("[data-print]")) window.print();
    if (e.target.closest("[data-keys]")) document.getElementById("keys").showModal();
  });

  // Choosing another bed opens its dose at once.
  const pick = document.getElementById("pick-bed");
  if (pick) pick.addEventListener("change", () => pick.form.requestSubmit());

  // The first field with a fault takes the focus.
  const wrong = document.querySelector("[aria-invalid=true]");
  if (wrong) wrong.focus();
})();
