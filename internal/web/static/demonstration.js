// In front of the class: one box large, a step more at each press. What one screen
// shows all of the project's show, so that a tablet leads the projector.

import { hush, say } from "./banner.js";
import { boxView, pictureIn } from "./boxview.js";
import { node } from "./svg.js";

const front = document.getElementById("front"), at = front.dataset.at, href = front.dataset.picture;
const desk = JSON.parse(front.dataset.desk), boxes = JSON.parse(front.dataset.boxes);
let now = JSON.parse(front.dataset.now);

const index = () => Math.max(0, desk.order.findIndex((b) => b.label === now.box));

function show() {
  const b = desk.order[index()], box = boxes[b.label], lines = Math.max(0, now.step - 1);
  document.getElementById("front-label").textContent = b.label;
  document.getElementById("front-box").replaceChildren(boxView(desk, b, href, { upside: now.upside }, box, { dots: now.step > 0, lines, latest: true }));
  whole(b);
  const words = now.step < 1 ? "Where does each line enter? Where does it leave?" : !box.lines.length ? box.all[0]
    : now.step === 1 ? "Put the dots first." : box.say[Math.min(lines, box.say.length) - 1];
  document.getElementById("front-say").textContent = words;
  for (const key of ["upside", "covered"]) front.querySelector(`[data-press="${key}"]`).setAttribute("aria-pressed", now[key]);
}

// The whole picture beside it, the box lit, the rest dim or covered.
function whole(b) {
  const [w, h] = desk.size;
  const svg = node("svg", { viewBox: `0 0 ${w} ${h}`, role: "img", "aria-label": `Box ${b.label} in the whole picture` });
  const turned = node("g", now.upside ? { transform: `rotate(180 ${w / 2} ${h / 2})` } : {}, svg);
  pictureIn(node("svg", { width: w, height: h, viewBox: `0 0 ${w} ${h}` }, turned), desk, href);
  const hole = `M0 0H${w}V${h}H0ZM${b.x} ${b.y}v${b.h}h${b.w}v${-b.h}Z`;
  node("path", { d: hole, class: now.covered ? "front-cover" : "front-dim", "fill-rule": "evenodd" }, turned);
  node("rect", { x: b.x, y: b.y, width: b.w, height: b.h, class: "own-frame", "stroke-width": Math.max(w, h) / 120 }, turned);
  document.getElementById("front-whole").replaceChildren(svg);
}

const presses = {
  on: () => { now.step = Math.min(now.step + 1, 1 + boxes[now.box].lines.length); },
  back: () => { now.step = Math.max(0, now.step - 1); },
  next: () => { now.box = desk.order[Math.min(desk.order.length - 1, index() + 1)].label; now.step = 0; },
  previous: () => { now.box = desk.order[Math.max(0, index() - 1)].label; now.step = 0; },
  upside: () => { now.upside = !now.upside; },
  covered: () => { now.covered = !now.covered; },
};

// One press after the other is sent, the last one last: what came meanwhile at once.
let sending = false, dirty = false;
async function send() {
  sending = true;
  while (dirty) {
    dirty = false;
    const body = new URLSearchParams({ box: now.box, step: now.step, upside: now.upside ? "1" : "0", covered: now.covered ? "1" : "0" });
    const answer = await fetch(at, { method: "POST", body }).catch(() => null);
    answer?.ok ? hush() : say("No connection. This screen goes on; the others follow when it is back.");
  }
  sending = false;
}

function press(what) {
  presses[what]();
  show();
  dirty = true;
  if (!sending) send();
}

front.addEventListener("click", (event) => {
  const what = event.target.closest("[data-press]")?.dataset.press;
  if (what) press(what);
});

const keys = { ArrowRight: "on", ArrowLeft: "back", n: "next", b: "previous", u: "upside", c: "covered" };
addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, textarea")) return;
  const what = keys[event.key] ?? keys[event.key.toLowerCase()];
  if (what) { event.preventDefault(); press(what); }
});

// What another screen shows; while one's own presses are on their way, one's own.
async function follow() {
  if (sending) return;
  const answer = await fetch(`${at}/now`, { cache: "no-store" }).catch(() => null);
  if (!answer?.ok || sending) return;
  now = await answer.json();
  show();
}
const line = new EventSource(`${at}/live`);
line.addEventListener("demonstration", follow);
line.addEventListener("hello", follow);
show();
