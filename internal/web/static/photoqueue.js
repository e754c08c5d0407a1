// Photos that wait on the tablet until they can be sent, each once. They lie in the
// browser's own database, which keeps what a closed page would lose.

const room = "zesty-own-photos", shelf = "photos";

function asked(request) {
  return new Promise((done, failed) => { request.onsuccess = () => done(request.result); request.onerror = () => failed(request.error); });
}

async function open() {
  const opening = indexedDB.open(room, 1);
  opening.onupgradeneeded = () => opening.result.createObjectStore(shelf, { keyPath: "id" });
  return asked(opening);
}

async function use(mode, what) {
  const db = await open();
  try { return await asked(what(db.transaction(shelf, mode).objectStore(shelf))); } finally { db.close(); }
}

export const photosOf = async (link) => (await use("readonly", (s) => s.getAll())).filter((p) => p.link === link);
export const keepPhoto = (link, file) => use("readwrite", (s) => s.put({ id: `${Date.now()}-${Math.random()}`, link, name: file.name, file }));
export const dropPhoto = (id) => use("readwrite", (s) => s.delete(id));

// Takes the database away where no student's photo waits in it any more.
export async function clearPhotos() {
  if (!(await use("readonly", (s) => s.count()))) await asked(indexedDB.deleteDatabase(room));
}

// Sends one photo: "sent", "refused" with words, or "down".
export async function sendPhoto(link, name, file) {
  const body = new FormData();
  body.append("photo", file, name || "photo.jpg");
  let answer;
  try {
    answer = await fetch(`${link}/photo`, { method: "POST", headers: { "HX-Request": "true" }, body, redirect: "manual" });
  } catch {
    return { state: "down" };
  }
  if (answer.ok || answer.type === "opaqueredirect") return { state: "sent" };
  if (answer.status === 429 || answer.status >= 500) return { state: "down" };
  const words = new DOMParser().parseFromString(await answer.text(), "text/html").body.textContent.trim();
  return { state: "refused", words };
}
