// Keeps a student's page and what it needs for times without a network. It
// keeps only what this tablet opened itself.

const store = "zesty-own-1";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

// The network first; what was kept where there is none. A page is kept without
// the box it was opened at, so that any box opens it.
self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.pathname.endsWith("/plan") || url.origin !== location.origin || !(url.pathname.startsWith("/s/") || url.pathname.startsWith("/static/"))) return;
  const kept = url.origin + url.pathname;
  event.respondWith((async () => {
    const cache = await caches.open(store);
    try {
      const answer = await fetch(event.request);
      if (answer.status === 503) return (await cache.match(kept)) ?? answer; // the database is away: draw on
      if (answer.ok) await cache.put(kept, answer.clone());
      else if (answer.status === 404 && url.pathname.startsWith("/s/")) await cache.delete(kept); // revoked
      return answer;
    } catch {
      return (await cache.match(kept)) ?? Response.error();
    }
  })());
});
