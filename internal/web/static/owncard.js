// The card of the stage in hand: steps to tick, words to keep, and “ready”. All of it
// waits in the queue where there is no network.

export function ownCard(link, queue) {
  const card = document.getElementById("own-card");
  if (!card) return;
  const say = (what, value) => queue.add(`${link}/own`, { what, value });
  card.addEventListener("change", (event) => {
    const box = event.target.closest("[data-own]");
    if (box) say(box.dataset.own, box.type === "checkbox" ? (box.checked ? "1" : "") : box.value);
  });
  card.addEventListener("click", async (event) => {
    if (event.target.closest("#own-home-keep")) {
      await say("home", [...card.querySelectorAll("[data-home]:checked")].map((b) => b.dataset.home).join(",") || "nothing");
      reload();
    }
    const ready = event.target.closest("#own-ready");
    if (!ready) return;
    ready.disabled = true;
    ready.textContent = "Said";
    await queue.add(`${link}/stage`, { stage: ready.dataset.stage });
    reload();
  });
  // The page is made anew by the server once it has heard all.
  function reload() {
    if (!queue.list().length) location.reload();
    else document.addEventListener("zesty:sent", () => { if (!queue.list().length) location.reload(); });
  }
}
