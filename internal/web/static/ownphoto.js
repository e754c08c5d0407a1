// A student hands in a photo of the drawing: it is kept on the tablet until it is sent,
// measured by the server, and what it says stands here beside each place.

import { hush, say } from "./banner.js";
import { laidOver } from "./laid.js";
import { dropPhoto, keepPhoto, photosOf, sendPhoto } from "./photoqueue.js";

const page = document.getElementById("photo-page"), link = page.dataset.link;
const seen = document.getElementById("photo-seen"), input = document.getElementById("photo"), says = document.getElementById("photo-says");
const mended = `zesty-own-${link}-mended`;

async function refresh() {
  const answer = await fetch(`${link}/photo/now`, { cache: "no-store" }).catch(() => null);
  if (!answer?.ok) return;
  const before = seen.firstElementChild?.outerHTML, text = (await answer.text()).trim();
  if (before !== text) seen.innerHTML = text;
  if (says?.textContent.startsWith("Handed in") && !seen.querySelector("[data-working]")) says.textContent = "";
  ticked();
}

// While something is being looked at the page asks after it.
setInterval(() => { if (!document.hidden && seen.querySelector("[data-working]")) refresh(); }, 700);

let sending = false;
async function flush() {
  if (sending) return;
  sending = true;
  try {
    for (const photo of await photosOf(link)) {
      const sent = await sendPhoto(link, photo.name, photo.file);
      if (sent.state === "down") {
        say("No connection. Your photo is kept on this tablet and will be sent.");
        return;
      }
      await dropPhoto(photo.id);
      told(sent);
    }
    hush();
  } finally {
    sending = false;
  }
}

function told(sent) {
  if (says) says.textContent = sent.state === "refused" ? sent.words : "Handed in. It is being looked at.";
  if (sent.state === "sent") refresh();
}

// Where the browser gives the camera, it can be looked through.
const camera = document.getElementById("photo-camera"), finder = document.getElementById("viewfinder");
if (camera) camera.hidden = !navigator.mediaDevices?.getUserMedia || typeof WebAssembly !== "object";
camera?.addEventListener("click", async () => {
  says.textContent = "Opening the camera…";
  try {
    const { viewfinder } = await import("./viewfinder.js");
    const taken = await viewfinder(finder, finder.dataset.plan, "grid" in finder.dataset);
    says.textContent = "";
    document.getElementById("photo-ruling").textContent = taken?.ruling ?? "";
    if (taken) take(taken.file);
  } catch {
    says.textContent = "The camera cannot be opened here. Take or choose a photo instead.";
  }
});

input?.addEventListener("change", () => { if (input.files[0]) take(input.files[0]); });

async function take(file) {
  says.textContent = "Sending…";
  try {
    await keepPhoto(link, file);
  } catch { // the tablet is full: it goes at once or not at all
    const sent = await sendPhoto(link, file.name, file);
    input.value = "";
    if (sent.state === "down") says.textContent = "There is no room on this tablet and no connection. Try again when the network is back.";
    else told(sent);
    return;
  }
  input.value = "";
  flush();
}

// What was ticked as mended stays ticked until the next photo.
function ticked() {
  const of = seen.querySelector("#seen")?.dataset.checkin, kept = JSON.parse(localStorage.getItem(mended) ?? "{}");
  const boxes = [...seen.querySelectorAll("[data-mended]")];
  for (const box of boxes) box.checked = kept.of === of && kept.done.includes(box.closest("[data-thing]").dataset.thing);
  const all = seen.querySelector("#all-mended");
  if (all) all.hidden = !boxes.length || boxes.some((b) => !b.checked);
}

seen.addEventListener("change", (event) => {
  if (!event.target.matches("[data-mended]")) return;
  const done = [...seen.querySelectorAll("[data-mended]:checked")].map((b) => b.closest("[data-thing]").dataset.thing);
  localStorage.setItem(mended, JSON.stringify({ of: seen.querySelector("#seen").dataset.checkin, done }));
  ticked();
});

seen.addEventListener("input", (event) => {
  if (event.target.id === "film-at") film(event.target);
  if (event.target.id === "film-part") seen.querySelector("[data-film]").setAttribute("viewBox", event.target.value);
});

// Between two photos the later one shows through the earlier one, more and more.
function film(slider) {
  const whens = slider.dataset.whens.split("|"), at = (slider.value / 100) * (whens.length - 1);
  seen.querySelectorAll("[data-film] image").forEach((image, i) => image.setAttribute("opacity", Math.max(0, Math.min(1, at - i + 1))));
  document.getElementById("film-when").textContent = whens[Math.round(at)];
}

laidOver(seen);

addEventListener("online", flush);
setInterval(flush, 3000);
flush();
ticked();
if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
page.dataset.ready = "yes";
