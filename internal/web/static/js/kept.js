// Registers the service worker that caches field pages; a cached page says so.
const forget = document.body.matches(".page-signin");
if ("serviceWorker" in navigator && window.isSecureContext) {
  navigator.serviceWorker.register("/worker.js").then(
    (r) => {
      if (forget && r.active) r.active.postMessage("forget");
    },
    () => {},
  ); // a browser that may not is none the worse
}

// After sign-out nothing of the garden stays here: neither drafts nor pages. What was done without a signal is sent
// first, and nobody is signed out before.
const waitsHere = () => JSON.parse(localStorage.getItem("zephyrfield-queue") || "[]").length;
const told = new Map();
const tell = (says) => {
  told.get(says)?.remove();
  const p = document.createElement("p");
  p.className = "off-today kept-copy";
  p.setAttribute("role", "status");
  p.textContent = says;
  document.getElementById("page")?.prepend(p);
  told.set(says, p);
};
const forgetAll = async () => {
  sessionStorage.clear();
  localStorage.clear();
  if (!window.isSecureContext) return; // then there are neither kept pages nor a worker
  await Promise.all((await caches.keys()).map((k) => caches.delete(k)));
};
// Cleared in another tab: this one's drafts go too.
window.addEventListener("storage", (e) => {
  if (e.key !== null) return;
  sessionStorage.clear();
  location.replace("/sign-in");
});
document.addEventListener("submit", async (e) => {
  if (e.target.getAttribute("action") !== "/sign-out") return;
  e.preventDefault();
  if (waitsHere() > 0) {
    tell("What you did without a signal is not sent yet. Sign out when it is.");
    return;
  }
  await forgetAll().catch(() => {});
  e.target.submit();
});

const at = document.body.dataset.kept;
if (at) {
  const when = new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
  tell(`No signal. This page was kept here on ${when}; what you do on it is sent when there is one.`);

  // With a signal the page is read anew, once all that waits is sent; not under a hand that types.
  const renew = async () => {
    if (waitsHere() > 0 || document.activeElement?.matches("input, select, textarea")) return;
    try {
      if ((await fetch(location.href, { cache: "no-store" })).ok) location.reload();
    } catch {
      // no signal yet
    }
  };
  window.addEventListener("online", renew);
  setInterval(renew, 5000);
}
