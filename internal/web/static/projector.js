// The projector: the clock, and the room's maps as they change.

import "./countdown.js";

const clock = document.getElementById("clock");
const tick = () => { clock.textContent = new Date().toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" }); };
tick();
setInterval(tick, 1000);

let wait = 0;
const line = new EventSource(document.querySelector("script[data-live]").dataset.live);
const refresh = () => {
  clearTimeout(wait);
  wait = setTimeout(async () => {
    const answer = await fetch(location.href).catch(() => null);
    if (!answer?.ok) return;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const part of [".projector-maps", ".projector-sum", ".projector-stage", ".projector-call"]) {
      const fresh = page.querySelector(part);
      if (fresh) document.querySelector(part)?.replaceWith(fresh);
    }
  }, 300);
};
line.addEventListener("student", refresh);
line.addEventListener("call", refresh);
line.addEventListener("hello", refresh); // and what changed before the line was open
