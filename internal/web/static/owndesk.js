// What every student's page at work has, whatever is counted: a queue that outlives the
// connection, the raised hand, the card of the stage, and a tablet that is put away.

import { putAway } from "./away.js";
import "./countdown.js";
import { hush, say } from "./banner.js";
import { ownCard } from "./owncard.js";
import { Queue, counted } from "./queue.js";

// Shows what the teacher calls: words, and a time that runs.
function called({ words, until }) {
  const line = document.getElementById("own-call"), time = line.querySelector("time");
  line.hidden = !words && !until;
  line.querySelector("b").textContent = words;
  if (until) time.dataset.until = until;
  else { delete time.dataset.until; time.textContent = ""; }
}

export function ownQueue(key) {
  return new Queue(`${key}-queue`, (waiting, state) => {
    if (!state) { hush(); return; }
    const why = state === "slowed" ? "Much is going on just now." : "No connection.";
    say(waiting ? `${why} Draw on: ${counted(waiting)} and will be sent.` : `${why} Draw on.`);
  });
}

export function ownDesk(link, queue, key, version) {
  const hand = document.getElementById("own-hand");
  hand.addEventListener("submit", (event) => {
    event.preventDefault();
    const up = hand.elements.on.value === "1", button = hand.querySelector("button");
    queue.add(`${link}/hand`, { on: up ? "1" : "0" });
    hand.elements.on.value = up ? "0" : "1";
    button.textContent = up ? "Hand is up · take it down" : "Hand up";
    button.setAttribute("aria-pressed", up);
    button.classList.toggle("btn-zest", up);
    button.classList.toggle("btn-quiet", !up);
  });

  // The teacher may change the grid: the page is opened anew once all is sent.
  let newer = false;
  function anew(plan) {
    newer ||= Boolean(plan) && Number(plan) !== version;
    if (newer && !queue.list().length) location.reload();
  }
  document.addEventListener("zesty:sent", (event) => anew(event.detail.plan));
  // And may call something to everybody.
  async function look() {
    if (document.hidden) return;
    const answer = await fetch(`${link}/now`, { cache: "no-store" }).catch(() => null);
    if (!answer?.ok) return;
    const now = await answer.json();
    anew(now.plan);
    called(now.call);
    document.getElementById("own-twice").hidden = !now.twice;
  }
  setInterval(look, 12000);
  setTimeout(look, 1500);

  // Cautions stand whole when a stage begins, then behind their line.
  const care = document.getElementById("own-care");
  if (care && localStorage.getItem(`${key}-stage`) !== care.dataset.stage) {
    care.open = true;
    care.addEventListener("toggle", () => { if (!care.open) localStorage.setItem(`${key}-stage`, care.dataset.stage); });
  }

  // The screen stays awake beside the paper.
  const awake = () => { if (!document.hidden) navigator.wakeLock?.request("screen").catch(() => {}); };
  document.addEventListener("visibilitychange", awake);
  awake();
  ownCard(link, queue);
  document.getElementById("own-away").addEventListener("click", () => putAway(link, queue));

  // After the first load the page is there without a network.
  if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
}
