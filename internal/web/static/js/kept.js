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
document.addEventListener("submit", (e) => {
  if (e.target.getAttribute("action") !== "/sign-out" || !navigator.serviceWorker?.controller) return;
  navigator.serviceWorker.controller.postMessage("forget");
});

const at = document.body.dataset.kept;
if (at) {
  const says = document.createElement("p");
  says.className = "off-today kept-copy";
  says.setAttribute("role", "status");
  const when = new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
  says.textContent = `No signal. This page was kept here on ${when}; what you do on it is sent when there is one.`;
  document.getElementById("page")?.prepend(says);

  // With a signal the page is read anew, once all that waits is sent; not under a hand that types.
  const renew = async () => {
    const waits = JSON.parse(localStorage.getItem("zephyrfield-queue") || "[]");
    if (waits.length > 0 || document.activeElement?.matches("input, select, textarea")) return;
    try {
      if ((await fetch(location.href, { cache: "no-store" })).ok) location.reload();
    } catch {
      // no signal yet
    }
  };
  window.addEventListener("online", renew);
  setInterval(renew, 5000);
}
