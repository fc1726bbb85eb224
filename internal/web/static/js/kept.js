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
const tell = (says) => {
  const p = document.createElement("p");
  p.className = "off-today kept-copy";
  p.setAttribute("role", "status");
  p.textContent = says;
  document.getElementById("page")?.prepend(p);
};
document.addEventListener("submit", (e) => {
  if (e.target.getAttribute("action") !== "/sign-out") return;
  if (waitsHere() > 0) {
    e.preventDefault();
    tell("What you did without a signal is not sent yet. Sign out when it is.");
    return;
  }
  sessionStorage.clear();
  localStorage.clear();
  navigator.serviceWorker?.controller?.postMessage("forget");
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
