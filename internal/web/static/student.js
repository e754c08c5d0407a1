// A student's page: the box in hand, drawn here from numbers the server sent,
// so that it goes on without a connection. Ticks wait in a queue until it is back.

import { boxView } from "./boxview.js";
import { compared, lean, onSide, press, told, trials, wrong } from "./guess.js";
import { laidOver } from "./laid.js";
import { ownDesk, ownQueue } from "./owndesk.js";
import { Strips } from "./strips.js";

const own = document.getElementById("own"), link = own.dataset.link, left = own.classList.contains("own-left"); // the next box lies to the left
const desk = JSON.parse(own.dataset.desk); // order, boxes, picture's map; see student.go
const key = `zesty-own-${link}`;
const done = new Set(desk.done);
const looks = JSON.parse(localStorage.getItem(`${key}-looks`) ?? "{}");
looks.upside ??= own.dataset.way === "strips"; // unless the student turned it back
let at = desk.order.findIndex((b) => b.label === document.getElementById("own-label").textContent);

const queue = ownQueue(key);
for (const { url, values } of queue.list()) {
  if (url === `${link}/ticks`) values.on === "1" ? done.add(values.label) : done.delete(values.label);
}

// --- help to see it ------------------------------------------------------------

// What is in each box: dots where lines cross its sides, words, the lines themselves.
// Each press goes one step further; lines then come one by one. Where the teacher wishes it,
// one marks the crossings before their dots are seen; how that went is measured as an exercise.
const steps = ["", "dots", "words", "lines"];
const asked = { "": "Help me see: dots", dots: "And in words", words: "And the lines, one by one" };
const twos = 2; // sentences a press; the lines told before are drawn by then, and shown
let boxes = null;
const helped = new Map(); // box to its step, how many sentences are said, and how many lines are shown

function help() {
  const label = desk.order[at].label;
  if (!helped.has(label)) helped.set(label, { step: desk.help, said: twos, lines: desk.help > 2 ? 1 : 0 });
  return helped.get(label);
}

function more() {
  const label = desk.order[at].label, h = help(), box = boxes[label];
  if (h.step === 0 && desk.guess && !h.guesses) {
    h.guesses = [];
    words();
    const before = localStorage.getItem(`${key}-lean`);
    if (before) document.getElementById("own-missed").textContent = `Last time: ${before.charAt(0).toLowerCase()}${before.slice(1)}`;
    return;
  }
  if (h.step === 2 && h.said < box.all.length) {
    h.lines = Math.min(h.said, box.lines.length);
    h.said += twos;
  } else if (h.step < 3) {
    h.step++;
    queue.add(`${link}/help`, { label, help: steps[h.step] });
    if (h.step === 3) h.lines = Math.min(h.lines + 1, box.lines.length);
  } else if (h.lines < box.lines.length) h.lines++;
  words();
  picture();
}

// Where a guess went wrong the exercises ask again; which way it mostly went is said before the next.
function remember(guessed) {
  const label = desk.order[at].label, erred = new Set(JSON.parse(localStorage.getItem(`${key}-erred`) ?? "[]"));
  wrong(guessed) ? erred.add(label) : erred.delete(label);
  localStorage.setItem(`${key}-erred`, JSON.stringify([...erred]));
  localStorage.setItem(`${key}-lean`, lean(guessed));
}

// The true places, beside what was marked. What was judged is sent once there is enough of it to measure.
function see(skip) {
  const h = help(), box = boxes[desk.order[at].label];
  if (skip) h.guesses = [];
  else {
    h.guessed = compared(h.guesses, box.dots);
    remember(h.guessed);
    const kept = [...JSON.parse(localStorage.getItem(`${key}-guessed`) ?? "[]"), ...trials(h.guessed)];
    if (kept.length >= 12) queue.add(`${link}/train`, { kind: "along", trials: kept.join(" ") });
    localStorage.setItem(`${key}-guessed`, JSON.stringify(kept.length >= 12 ? [] : kept));
  }
  more();
}

function words() {
  const panel = document.getElementById("own-help"), box = boxes?.[desk.order[at].label];
  panel.hidden = !box || Boolean(strips?.mode); // by strips no box is looked at
  if (panel.hidden) return;
  const guessing = help().step === 0 && Boolean(help().guesses);
  document.getElementById("own-guess").hidden = !guessing;
  document.getElementById("own-more").hidden = guessing;
  document.getElementById("own-missed").textContent = help().guessed ? told(help().guessed) : "";
  if (guessing) return;
  const h = help(), button = document.getElementById("own-more"), left = box.lines.length - h.lines;
  button.hidden = (!box.lines.length && (box.all.length === 0 || h.step >= 2)) || (h.step === 3 && left <= 0);
  const untold = h.step === 2 ? box.all.length - h.said : 0;
  button.textContent = untold > 0 ? `Drawn. ${untold > 1 ? "The next two" : "The last one"}` : h.step < 3 ? asked[steps[h.step]] : `The next line · ${left} left`;
  const from = h.step === 2 ? h.said - twos : 0; // what was told before is drawn, and stands in grey
  const said = h.step < 2 ? [] : h.step === 2 ? box.all.slice(0, h.said) : box.say.slice(0, h.lines);
  document.getElementById("own-words").replaceChildren(...said.map((sentence, i) => {
    const p = document.createElement("p");
    p.textContent = sentence;
    if (i < from) p.className = "quiet";
    return p;
  }));
}

document.getElementById("own-more").addEventListener("click", more);
document.getElementById("own-see").addEventListener("click", () => see(false));
document.getElementById("own-skip").addEventListener("click", () => see(true));
document.getElementById("own-put").addEventListener("click", () => {
  const t = Math.max(0, Math.min(100, Number(document.getElementById("own-far").value))) / 100;
  help().guesses.push(onSide(document.getElementById("own-onside").value, t));
  document.getElementById("own-missed").textContent = `${help().guesses.length} marked.`;
  picture();
});
document.getElementById("own-picture").addEventListener("pointerdown", (event) => {
  const svg = event.target.closest("svg"), h = boxes && help();
  if (!svg || h?.step !== 0 || !h.guesses || strips?.mode || looks.strip || looks.whole) return;
  h.guesses = press(h.guesses, svg, desk.order[at], event);
  picture();
});
fetch(`${link}/boxes`).then((answer) => (answer.ok ? answer.json() : null)).then((found) => {
  boxes = found;
  words();
  picture();
}).catch(() => {}); // without it one draws on, unhelped

// --- the box in hand ----------------------------------------------------------

const strips = desk.picture && new Strips(desk, `${link}/picture`, `${key}-strips`);

function picture() {
  if (!desk.picture || strips.mode) return;
  const b = desk.order[at], h = help();
  const svg = boxView(desk, b, `${link}/picture`, looks, boxes?.[b.label], { dots: h.step >= 1, lines: h.lines, latest: h.step === 3, guesses: h.guesses, guessed: h.guessed });
  document.getElementById("own-picture").replaceChildren(svg);
}

// Only what changed is written: a class's map may have a hundred boxes.
const cells = new Map([...own.querySelectorAll(".own-map a")].map((a) => [a.dataset.label, a]));
let shown = "", moved = false;
function mark(label) {
  const a = cells.get(label), there = done.has(label);
  if (!a) return;
  a.classList.toggle("on", there);
  a.setAttribute("aria-label", label + (there ? ", done" : ""));
  a.toggleAttribute("aria-current", label === desk.order[at].label);
}

function show() {
  const b = desk.order[at], on = done.has(b.label);
  document.getElementById("own-label").textContent = b.label;
  document.getElementById("own-done").textContent = on ? "✓ done" : "";
  document.getElementById("own-tick").textContent = on ? "Not done after all" : `${b.label} is done`;
  document.getElementById("own-count").textContent = desk.order.filter((o) => done.has(o.label)).length;
  for (const [id, other, text] of [["own-back", desk.order[at - 1], left ? (l) => `${l} →` : (l) => `← ${l}`], ["own-next", desk.order[at + 1], left ? (l) => `← ${l}` : (l) => `${l} →`]]) {
    const a = document.getElementById(id);
    a.hidden = !other;
    if (other) { a.href = `${link}?box=${other.label}`; a.textContent = text(other.label); }
  }
  mark(shown);
  mark(shown = b.label);
  words();
  requestAnimationFrame(() => setTimeout(settle)); // what was pressed answers first
}

// Then the picture is drawn, and the address names the box.
function settle() {
  picture();
  if (moved) history.replaceState(null, "", `${link}?box=${desk.order[at].label}`);
}

function go(label) {
  looks.whole = false;
  const i = desk.order.findIndex((b) => b.label === label);
  if (i < 0) return;
  at = i;
  moved = true;
  pressed();
  show();
}

// Before anything is drawn the whole picture stands here; the boxes are a press away.
document.getElementById("own-boxes")?.addEventListener("click", (event) => {
  event.preventDefault();
  own.classList.remove("own-overview");
  document.querySelector(".own-first").remove();
  go(desk.order[at].label);
});

own.addEventListener("click", (event) => {
  const a = event.target.closest(".own-map a, #own-back, #own-next");
  if (a) {
    event.preventDefault();
    go(a.dataset.label ?? new URL(a.href).searchParams.get("box"));
    return;
  }
  const mode = event.target.closest("[data-mode]")?.dataset.mode, look = event.target.closest("[data-look]")?.dataset.look;
  if (mode && strips) {
    strips.set(mode);
    pressed();
    show();
  }
  if (!look) return;
  looks[look] = !looks[look];
  if (look !== "whole") looks.whole = false;
  localStorage.setItem(`${key}-looks`, JSON.stringify({ ...looks, whole: false }));
  pressed();
  picture();
});

function pressed() {
  for (const b of own.querySelectorAll("[data-look]")) b.setAttribute("aria-pressed", Boolean(looks[b.dataset.look]));
  for (const b of own.querySelectorAll("[data-mode]")) b.setAttribute("aria-pressed", strips?.mode === b.dataset.mode);
}

document.getElementById("own-form").addEventListener("submit", (event) => {
  event.preventDefault();
  const label = desk.order[at].label, on = !done.has(label);
  on ? done.add(label) : done.delete(label);
  queue.add(`${link}/ticks`, { label, on: on ? "1" : "0", plan: desk.version });
  if (on) {
    const next = [...desk.order.slice(at + 1), ...desk.order.slice(0, at)].find((b) => !done.has(b.label));
    if (next) return go(next.label);
  }
  show();
});

addEventListener("keydown", (event) => {
  if (event.target.closest?.("input, textarea, button, a")) return;
  if (event.key === "ArrowRight") document.getElementById("own-next").click();
  if (event.key === "ArrowLeft") document.getElementById("own-back").click();
  if (event.key === " ") { document.getElementById("own-tick").click(); event.preventDefault(); }
});

laidOver(own);
// Where there is room the ways to look lie open.
if (matchMedia("(min-width: 60rem)").matches) document.getElementById("own-drawer").open = true;
pressed();
for (const label of cells.keys()) mark(label); // ticks that wait here may not be the server's yet
show();
ownDesk(link, queue, key, desk.version);
