// A student's page: the box in hand, drawn here from numbers the server sent,
// so that it goes on without a connection. Ticks wait in a queue until it is back.

import { hush, say } from "./banner.js";
import { Queue, counted } from "./queue.js";
import { node } from "./svg.js";

const own = document.getElementById("own"), link = own.dataset.link;
const desk = JSON.parse(own.dataset.desk); // order, boxes, picture's map; see student.go
const key = `zesty-own-${link}`;
const done = new Set(desk.done);
const looks = JSON.parse(localStorage.getItem(`${key}-looks`) ?? "{}");
let at = desk.order.findIndex((b) => b.label === document.getElementById("own-label").textContent);

const queue = new Queue(`${key}-queue`, (waiting, state) => {
  if (!state) { hush(); return; }
  const why = state === "slowed" ? "Much is going on just now." : "No connection.";
  say(waiting ? `${why} Draw on: ${counted(waiting)} and will be sent.` : `${why} Draw on.`);
});
for (const { url, values } of queue.list()) {
  if (url === `${link}/ticks`) values.on === "1" ? done.add(values.label) : done.delete(values.label);
}

// --- the box in hand ----------------------------------------------------------

// The part that is shown: the box, or its whole row, with a little around it.
function view() {
  const b = desk.order[at];
  if (!looks.strip) return b;
  const row = desk.order.filter((o) => o.row === b.row);
  return { x: Math.min(...row.map((o) => o.x)), y: b.y, w: row.reduce((s, o) => s + o.w, 0), h: b.h, row: b.row };
}

// --- help to see it ------------------------------------------------------------

// What is in each box: dots where lines cross its sides, words, the lines themselves.
// Each press goes one step further; lines then come one by one.
const steps = ["", "dots", "words", "lines"];
const asked = { "": "Help me see: dots", dots: "And in words", words: "And the lines, one by one" };
let boxes = null;
const helped = new Map(); // box to its step, and how many lines are shown

function help() {
  const label = desk.order[at].label;
  if (!helped.has(label)) helped.set(label, { step: desk.help, lines: desk.help > 2 ? 1 : 0 });
  return helped.get(label);
}

function more() {
  const label = desk.order[at].label, h = help(), box = boxes[label];
  if (h.step < 3) {
    h.step++;
    queue.add(`${link}/help`, { label, help: steps[h.step] });
    if (h.step === 3) h.lines = 1;
  } else if (h.lines < box.lines.length) h.lines++;
  words();
  picture();
}

function words() {
  const panel = document.getElementById("own-help"), box = boxes?.[desk.order[at].label];
  panel.hidden = !box;
  if (!box) return;
  const h = help(), button = document.getElementById("own-more"), left = box.lines.length - h.lines;
  button.hidden = !box.lines.length || (h.step === 3 && left <= 0);
  button.textContent = h.step < 3 ? asked[steps[h.step]] : `The next line · ${left} left`;
  const said = h.step < 2 ? [] : h.step === 2 ? box.all : box.say.slice(0, h.lines);
  document.getElementById("own-words").replaceChildren(...said.map((sentence) => {
    const p = document.createElement("p");
    p.textContent = sentence;
    return p;
  }));
}

function helpOn(g, line) {
  const b = desk.order[at], box = boxes?.[b.label];
  if (!box || looks.strip) return;
  const h = help(), place = ([x, y]) => `${b.x + x * b.w} ${b.y + y * b.h}`;
  if (h.step >= 3) box.lines.slice(0, h.lines).forEach((points, i) => {
    node("path", { d: `M${points.map(place).join("L")}`, class: i === h.lines - 1 ? "own-line own-now" : "own-line", "stroke-width": 4 * line }, g);
  });
  if (h.step >= 1) for (const [x, y] of box.dots) {
    node("circle", { cx: b.x + x * b.w, cy: b.y + y * b.h, r: 4.5 * line, class: "own-dot", "stroke-width": 1.5 * line }, g);
  }
}

document.getElementById("own-more").addEventListener("click", more);
fetch(`${link}/boxes`).then((answer) => (answer.ok ? answer.json() : null)).then((found) => {
  boxes = found;
  words();
  picture();
}).catch(() => {}); // without it one draws on, unhelped

function picture() {
  if (!desk.picture) return;
  const v = view(), k = desk.around, x = v.x - v.w * k, y = v.y - v.h * k, w = v.w * (1 + 2 * k), h = v.h * (1 + 2 * k);
  const room = 0.07 * Math.max(w, h);
  const svg = node("svg", { viewBox: `${x - room} ${y - room} ${w + 2 * room} ${h + 2 * room}`, role: "img", "aria-label": `Box ${desk.order[at].label}` });
  const down = looks.upside ? -1 : 1, across = looks.mirror ? -down : down;
  const turned = node("g", { transform: `translate(${x + w / 2} ${y + h / 2}) scale(${across} ${down}) translate(${-x - w / 2} ${-y - h / 2})` }, svg);
  const hole = node("svg", { x, y, width: w, height: h, viewBox: `${x} ${y} ${w} ${h}` }, turned);
  const transform = `matrix(${desk.picture.join(" ")})`;
  const image = node("image", { href: `${link}/picture`, width: 1000, height: 1000, preserveAspectRatio: "none", transform }, hole);
  if (looks.grey) image.setAttribute("class", "own-grey");
  const line = Math.max(w, h) / 300;
  node("rect", { x: v.x, y: v.y, width: v.w, height: v.h, class: "own-frame", "stroke-width": 1.6 * line }, turned);
  const parts = looks.halves ? 4 : desk.order[at].split;
  const boxes = looks.strip ? desk.order.filter((o) => o.row === v.row) : [desk.order[at]];
  for (const b of boxes) {
    if (looks.strip) node("path", { d: `M${b.x} ${b.y}V${b.y + b.h}`, class: "own-frame", "stroke-width": line }, turned);
    for (let i = 1; i < parts; i++) {
      const d = `M${b.x + (b.w * i) / parts} ${b.y}v${b.h}M${b.x} ${b.y + (b.h * i) / parts}h${b.w}`;
      node("path", { d, class: "own-split", "stroke-width": line }, turned);
    }
  }
  helpOn(turned, line);
  for (const t of [0.25, 0.5, 0.75]) { // quarter marks, to read fractions by
    const long = room * (t === 0.5 ? 0.8 : 0.45), px = v.x + v.w * t, py = v.y + v.h * t;
    const d = `M${px} ${y - long}V${y}M${px} ${y + h}v${long}M${x - long} ${py}H${x}M${x + w} ${py}h${long}`;
    node("path", { d, class: "own-ticks", "stroke-width": line }, turned);
  }
  document.getElementById("own-picture").replaceChildren(svg);
}

function show() {
  const b = desk.order[at], on = done.has(b.label);
  document.getElementById("own-label").textContent = b.label;
  document.getElementById("own-done").textContent = on ? "✓ done" : "";
  document.getElementById("own-tick").textContent = on ? "Not done after all" : `${b.label} is done`;
  document.getElementById("own-count").textContent = desk.order.filter((o) => done.has(o.label)).length;
  for (const [id, other, text] of [["own-back", desk.order[at - 1], (l) => `← ${l}`], ["own-next", desk.order[at + 1], (l) => `${l} →`]]) {
    const a = document.getElementById(id);
    a.hidden = !other;
    if (other) { a.href = `${link}?box=${other.label}`; a.textContent = text(other.label); }
  }
  for (const a of own.querySelectorAll(".own-map a")) {
    const there = done.has(a.dataset.label);
    a.classList.toggle("on", there);
    a.textContent = there ? "✓" : a.dataset.label;
    a.setAttribute("aria-label", a.dataset.label + (there ? ", done" : ""));
    a.toggleAttribute("aria-current", a.dataset.label === b.label);
  }
  words();
  picture();
}

function go(label) {
  const i = desk.order.findIndex((b) => b.label === label);
  if (i < 0) return;
  at = i;
  history.replaceState(null, "", `${link}?box=${label}`);
  show();
}

own.addEventListener("click", (event) => {
  const a = event.target.closest(".own-map a, #own-back, #own-next");
  if (a) {
    event.preventDefault();
    go(a.dataset.label ?? new URL(a.href).searchParams.get("box"));
    return;
  }
  const look = event.target.closest("[data-look]")?.dataset.look;
  if (!look) return;
  looks[look] = !looks[look];
  localStorage.setItem(`${key}-looks`, JSON.stringify(looks));
  pressed();
  picture();
});

function pressed() {
  for (const b of own.querySelectorAll("[data-look]")) b.setAttribute("aria-pressed", Boolean(looks[b.dataset.look]));
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

addEventListener("keydown", (event) => {
  if (event.target.closest?.("input, textarea, button, a")) return;
  if (event.key === "ArrowRight") document.getElementById("own-next").click();
  if (event.key === "ArrowLeft") document.getElementById("own-back").click();
  if (event.key === " ") { document.getElementById("own-tick").click(); event.preventDefault(); }
});

// The teacher may change the grid: the page is opened anew once all is sent.
let newer = false;
function anew(version) {
  newer ||= Boolean(version) && Number(version) !== desk.version;
  if (newer && !queue.list().length) location.reload();
}
document.addEventListener("zesty:sent", (event) => anew(event.detail.plan));
setInterval(async () => {
  if (document.hidden) return;
  const answer = await fetch(`${link}/plan`, { cache: "no-store" }).catch(() => null);
  if (answer?.ok) anew(await answer.text());
}, 15000);

// After the first load the page is there without a network.
if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
pressed();
show();
