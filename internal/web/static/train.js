// Exercises for the eye. They run on the tablet alone; what was judged waits in a queue
// until it can be sent, and the server measures it.

import { boxView } from "./boxview.js";
import { hush, say } from "./banner.js";
import { Queue } from "./queue.js";
import { node } from "./svg.js";

const root = document.getElementById("train"), link = root.dataset.link;
const desk = JSON.parse(root.dataset.desk), kinds = JSON.parse(root.dataset.kinds), stairs = JSON.parse(root.dataset.stairs);
const by = (id) => document.getElementById(`train-${id}`);
const queue = new Queue(`zesty-own-${link}-queue`, (waiting, state) => { state && waiting ? say("No connection. What you did is kept and will be sent.") : hush(); });

const parts = [["a quarter", 1 / 4], ["a third", 1 / 3], ["a half", 1 / 2], ["two thirds", 2 / 3], ["three quarters", 3 / 4], ["a fifth", 1 / 5], ["four fifths", 4 / 5]];
const any = (list) => list[Math.floor(Math.random() * list.length)];
let crossings = []; // of the class's own boxes: a box and one of its dots
let now = null; // kind, trials, and the present one

const loaded = fetch(`${link}/boxes`).then((a) => (a.ok ? a.json() : {})).then((boxes) => {
  for (const b of desk.order) for (const [x, y] of boxes[b.label]?.dots ?? []) {
    const upright = x === 0 || x === 1, at = upright ? y : x;
    if (at > 0.04 && at < 0.96) crossings.push({ b, x, y, upright, at });
  }
}).catch(() => {});

function svg(...size) { return node("svg", { viewBox: `0 0 ${size[0]} ${size[1]}`, role: "img" }); }

// What each kind shows: the task's true value, its words, and its drawing with the mark.
const tasks = {
  along() {
    const c = any(crossings), side = c.x === 0 ? "left" : c.x === 1 ? "right" : c.y === 0 ? "top" : "bottom";
    const [cx, cy] = [c.b.x + c.x * c.b.w, c.b.y + c.y * c.b.h], line = Math.max(c.b.w, c.b.h) / 250;
    return { shown: c.at, words: `How far along the ${side} side, from the ${c.upright ? "top" : "left"}?`, draw(mark) {
      const pair = document.createElement("div");
      const seen = boxView(desk, c.b, `${link}/picture`, {});
      node("circle", { cx, cy, r: 11 * line, class: "train-ring", "stroke-width": 3 * line }, seen.querySelector("g"));
      const empty = svg(120, 120), g = (x, y) => [10 + 100 * x, 10 + 100 * y];
      node("rect", { x: 10, y: 10, width: 100, height: 100, class: "own-frame", "stroke-width": 1 }, empty);
      const [mx, my] = c.upright ? g(c.x, mark) : g(mark, c.y);
      node("circle", { cx: mx, cy: my, r: 3, class: "own-dot" }, empty);
      pair.append(seen, empty);
      return pair;
    } };
  },
  halve() {
    const [name, shown] = any(parts), long = 70 + Math.random() * 40, x = 5 + Math.random() * (110 - long);
    return { shown, words: `Set the mark at ${name} of the line, from the left.`, draw(mark) {
      const s = svg(120, 30);
      node("path", { d: `M${x} 15h${long}M${x} 11v8M${x + long} 11v8`, class: "train-line" }, s);
      node("path", { d: `M${x + mark * long} 8v14`, class: "train-mark" }, s);
      return s;
    } };
  },
  angle() {
    const shown = Math.round(Math.random() * 178 - 89);
    const arm = (s, deg, y, css) => { const r = (deg * Math.PI) / 180, dx = 24 * Math.cos(r), dy = -24 * Math.sin(r); node("path", { d: `M${60 - dx} ${y - dy}L${60 + dx} ${y + dy}`, class: css }, s); };
    return { shown, start: 0.5, value: (mark) => mark * 180 - 90, words: "Turn the lower line until it leans as the upper one does.", draw(mark) {
      const s = svg(120, 110);
      arm(s, shown, 27, "train-line");
      arm(s, mark * 180 - 90, 83, "train-mark");
      return s;
    } };
  },
  longer(difference) {
    const mean = 34 + Math.random() * 10, l = mean * (1 + difference / 2), r = mean * (1 - difference / 2);
    return { words: "Which line is longer?", draw() {
      const s = svg(120, 40), a = 6 + Math.random() * 4, b = 64 + Math.random() * 4, ya = 8 + Math.random() * 24, yb = 8 + Math.random() * 24;
      node("path", { d: `M${a} ${ya}h${l}`, class: "train-line" }, s);
      node("path", { d: `M${b} ${yb}h${r}`, class: "train-line" }, s);
      return s;
    } };
  },
  darker(difference) {
    const mean = 0.35 + Math.random() * 0.3, tone = (light) => `hsl(0 0% ${Math.max(0, Math.min(100, 100 * light))}%)`;
    return { words: "Which tone is darker?", draw() {
      const s = svg(120, 60);
      node("rect", { x: 8, y: 8, width: 44, height: 44, fill: tone(mean - difference / 2) }, s);
      node("rect", { x: 68, y: 8, width: 44, height: 44, fill: tone(mean + difference / 2) }, s);
      return s;
    } };
  },
};

async function begin(kind) {
  if (kind === "along") {
    await loaded;
    if (!desk.picture || !crossings.length) { // nothing of the class's own to judge by
      say("This picture’s boxes are not here yet. Take another exercise.");
      return;
    }
  }
  now = { about: kinds.find((k) => k.Kind === kind), trials: [], levels: [stairs.from, stairs.from] };
  by("kinds").hidden = true;
  by("end").hidden = true;
  by("run").hidden = false;
  by("ask").textContent = now.about.Name;
  by("set").hidden = now.about.Choice;
  by("choose").hidden = !now.about.Choice;
  by("by-ear").textContent = now.about.Choice ? "This one is for the eye alone. With a screen reader take “A half, a third, a quarter”: its words say where the mark belongs."
    : "Arrow keys move the mark, Enter keeps it. The mark’s place is said in hundredths.";
  task();
}

function task() {
  const n = now.trials.length;
  by("count").textContent = `${n + 1} of ${now.about.Trials}`;
  if (now.about.Choice) {
    const sign = n % 2 ? -1 : 1;
    now.shown = sign * now.levels[n % 2];
    now.task = tasks[now.about.Kind](now.shown);
    by("picture").replaceChildren(now.task.draw());
    by("picture").setAttribute("aria-label", now.task.words);
    return;
  }
  now.task = tasks[now.about.Kind]();
  now.shown = now.task.shown;
  by("mark").value = String(Math.round(1000 * (now.task.start ?? 0.15 + 0.7 * Math.random())));
  by("says").textContent = now.task.words;
  redraw();
  by("mark").focus({ preventScroll: true });
}

function redraw() {
  const mark = Number(by("mark").value) / 1000;
  by("mark").setAttribute("aria-valuetext", `${Math.round(100 * mark)} hundredths`);
  by("picture").replaceChildren(now.task.draw(mark));
}

function keep(given) {
  now.trials.push(`${now.shown.toFixed(4)},${given}`);
  if (now.trials.length < now.about.Trials) { task(); return; }
  queue.add(`${link}/train`, { kind: now.about.Kind, trials: now.trials.join(" ") });
  by("run").hidden = true;
  by("kinds").hidden = false;
  by("end").hidden = false;
}

document.addEventListener("zesty:sent", (event) => {
  if (event.detail.one.url !== `${link}/train`) return;
  by("told").textContent = event.detail.ok ? "Kept. Open this page again to see how it went." : event.detail.text;
  if (event.detail.ok && by("run").hidden) location.reload();
});

by("mark").addEventListener("input", redraw);
by("mark").addEventListener("keydown", (event) => { if (event.key === "Enter") by("keep").click(); });
by("keep").addEventListener("click", () => {
  const mark = Number(by("mark").value) / 1000;
  keep((now.task.value ? now.task.value(mark) : mark).toFixed(4));
});
by("stop").addEventListener("click", () => { by("run").hidden = true; by("kinds").hidden = false; });

function choose(left) {
  const n = now.trials.length, right = (left === 1) === (now.shown > 0), at = now.levels[n % 2];
  now.levels[n % 2] = right ? Math.max(stairs.least, at * stairs.down) : Math.min(stairs.most, at * stairs.up);
  keep(left);
}
root.addEventListener("click", (event) => {
  const kind = event.target.closest("[data-kind]")?.dataset.kind, side = event.target.closest("[data-side]")?.dataset.side;
  if (kind) begin(kind);
  if (side) choose(Number(side));
});
addEventListener("keydown", (event) => {
  if (!now?.about.Choice || by("run").hidden) return;
  if (event.key === "ArrowLeft") { event.preventDefault(); choose(1); }
  if (event.key === "ArrowRight") { event.preventDefault(); choose(0); }
});

if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
root.dataset.ready = "yes";
