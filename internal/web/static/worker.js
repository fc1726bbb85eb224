// Caches the field pages and their assets for offline use; a cached page says when it was stored.
// Posts are left to the page's queue.
const pages = "zephyrfield-pages-1";
const made = "zephyrfield-made-1";
const field = /^\/(sheet|bench|walk(\/\d+)?|begin.*)?$/;
const mostPages = 40;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (e) => e.waitUntil(self.clients.claim()));

// Signing out, or having to sign in, clears the cache.
self.addEventListener("message", (e) => {
  if (e.data === "forget") e.waitUntil(caches.delete(pages));
});

const keep = async (request, answer) => {
  const cache = await caches.open(pages);
  const body = await answer.blob();
  await cache.put(
    request,
    new Response(body, { headers: { "Content-Type": "text/html; charset=utf-8", "X-Kept": new Date().toISOString() } }),
  );
  const all = await cache.keys();
  await Promise.all(all.slice(0, Math.max(0, all.length - mostPages)).map((k) => cache.delete(k)));
};

const kept = async (request) => {
  const cache = await caches.open(pages);
  const found =
    (await cache.match(request, { ignoreSearch: false })) || (await cache.match(request, { ignoreSearch: true }));
  if (!found) return null;
  const page = (await found.text()).replace("<body ", `<body data-kept="${found.headers.get("X-Kept")}" `);
  const headers = {
    "Content-Type": "text/html; charset=utf-8",
    "Content-Security-Policy":
      "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; " +
      "connect-src 'self'; form-action 'self'; base-uri 'none'; worker-src 'self'; manifest-src 'self'",
  };
  return new Response(page, { headers });
};

const page = async (e) => {
  try {
    const answer = await fetch(e.request);
    if (answer.ok && !answer.redirected) e.waitUntil(keep(e.request, answer.clone()));
    return answer;
  } catch (failed) {
    return (await kept(e.request)) || Promise.reject(failed);
  }
};

const part = async (e) => {
  const cache = await caches.open(made);
  const found = await cache.match(e.request);
  if (found) return found;
  const answer = await fetch(e.request);
  if (answer.ok) {
    const own = new URL(e.request.url).pathname.split("/")[2];
    for (const k of await cache.keys()) {
      if (new URL(k.url).pathname.split("/")[2] !== own) await cache.delete(k); // of an older program
    }
    await cache.put(e.request, answer.clone());
  }
  return answer;
};

self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (e.request.mode === "navigate" && field.test(url.pathname)) e.respondWith(page(e));
  else if (url.pathname.startsWith("/static/")) e.respondWith(part(e));
});
