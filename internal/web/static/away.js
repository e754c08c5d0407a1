// A tablet is put away: all that is kept of its student goes, once everything is sent.

import { say } from "./banner.js";
import { clearPhotos, photosOf } from "./photoqueue.js";

// The parts of the browser's own store that are a student's begin so.
const mine = (link) => `zesty-own-${link}`;

export async function putAway(link, queue) {
  await queue.flush();
  if (queue.list().length || (await photosOf(link).catch(() => [])).length) {
    say("Not everything is sent yet. Wait for the network, then press again.");
    return;
  }
  for (const key of Object.keys(localStorage)) if (key.startsWith(mine(link))) localStorage.removeItem(key);
  await clearPhotos().catch(() => {}); // another student's that waits stays
  for (const name of await globalThis.caches?.keys() ?? []) await caches.delete(name);
  for (const worker of await navigator.serviceWorker?.getRegistrations() ?? []) await worker.unregister();
  location.replace("/s/away");
}
