// Keeps a student's page and what it needs for times without a network. It
// keeps only what this tablet opened itself, and one student's at a time.

const store = "zesty-own-2";

// The link that an address of a student's belongs to; none for what belongs to all.
const linkOf = (path) => path.match(/^\/s\/([^/]+)/)?.[1];

let whose; // the link whose page was opened last, as far as this worker knows

// The folder of a version's scripts and styles; what is in it never changes.
const versionOf = (path) => path.match(/^\/static\/v-[^/]+\//)?.[0];

// Forgets the scripts and styles of all versions but the last two: a page that was kept may still need those before.
async function outgrow(cache) {
  const paths = (await cache.keys()).map((kept) => new URL(kept.url).pathname).filter(versionOf);
  const last = [...new Set(paths.map(versionOf).reverse())].slice(0, 2);
  for (const path of paths) if (!last.includes(versionOf(path))) await cache.delete(path);
}

// Forgets what was kept of other students.
async function forget(cache, link) {
  for (const kept of await cache.keys()) {
    const other = linkOf(new URL(kept.url).pathname);
    if (other && other !== link) await cache.delete(kept);
  }
}

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

// Where a link was ended, the server says so of every address that it opened.
const ended = (answer) => answer.status === 404 && answer.headers.get("Zesty-Link") === "ended";

// Links that were ended: what was asked for before and answered after is not kept.
const over = new Set();

// Forgets all that one link opened.
async function end(cache, link) {
  over.add(link);
  for (const kept of await cache.keys()) if (linkOf(new URL(kept.url).pathname) === link) await cache.delete(kept);
}

// The network first; what was kept where there is none. A page is kept without
// the box it was opened at, so that any box opens it; of drawings each photo by itself.
self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin || !(url.pathname.startsWith("/s/") || url.pathname.startsWith("/static/"))) return;
  const photo = url.searchParams.get("photo"), kept = url.origin + url.pathname + (photo ? `?photo=${photo}` : ""), link = linkOf(url.pathname);
  if (link && event.request.mode === "navigate") whose = link;
  if (/\/now$/.test(url.pathname)) { // never kept, but asked while the page stands open
    event.respondWith(fetch(event.request).then(async (answer) => {
      if (ended(answer)) await end(await caches.open(store), link);
      return answer;
    }));
    return;
  }
  const mine = () => !link || !over.has(link) && (!whose || link === whose);
  event.respondWith((async () => {
    const cache = await caches.open(store), version = versionOf(url.pathname);
    const here = version && await cache.match(kept);
    if (here) return here;
    try {
      const answer = await fetch(event.request);
      if (answer.status === 503) return (await cache.match(kept)) ?? answer; // the database is away: draw on
      if (answer.ok && url.pathname !== "/s/away") {
        if (link && event.request.mode === "navigate") {
          over.delete(link); // who had left is back
          await forget(cache, link);
        }
        if (mine()) await cache.put(kept, answer.clone());
        if (version) await outgrow(cache);
        if (!mine()) await cache.delete(kept); // another's page was opened meanwhile, or the link was ended
      } else if (link && ended(answer)) await end(cache, link);
      else if (link && answer.status === 404) await cache.delete(kept);
      return answer;
    } catch {
      return (await cache.match(kept)) ?? Response.error();
    }
  })());
});
