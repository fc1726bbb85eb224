// Shortcuts for pages and days, and their list.
import { move, steps } from "./day.js";

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
    setTimeout(() => {
      waiting = false;
    }, 1500);
  } else if (steps[e.key] && move(steps[e.key])) {
    e.preventDefault();
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
