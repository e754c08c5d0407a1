// Exercises for the eye. They run on the tablet alone; what was judged waits in a queue
// until it can be sent, and the server measures it.

import { hush, say } from "./banner.js";
import { Queue } from "./queue.js";
import { at, node } from "./svg.js";
import { tasksOf } from "./tasks.js";

const root = document.getElementById("train"), link = root.dataset.link;
const desk = JSON.parse(root.dataset.desk), kinds = JSON.parse(root.dataset.kinds), mistakes = JSON.parse(root.dataset.mistakes), stairs = JSON.parse(root.dataset.stairs);
const by = (id) => document.getElementById(`train-${id}`);
const queue = new Queue(`zesty-own-${link}-queue`, (waiting, state) => { state && waiting ? say("No connection. What you did is kept and will be sent.") : hush(); });
const loaded = fetch(`${link}/boxes`).then((a) => (a.ok ? a.json() : {})).catch(() => ({}))
  .then((boxes) => tasksOf(desk, `${link}/picture`, boxes, mistakes, again()));
// The boxes in which something went wrong: in the last photo, or where crossings were guessed.
function again() {
  const guessed = JSON.parse(localStorage.getItem(`zesty-own-${link}-erred`) ?? "[]");
  return new Set([...guessed, ...(mistakes?.slid ?? []).map((m) => m.label), ...(mistakes?.leaves ?? []).map((m) => m.label)]);
}
const figures = tasksOf(desk, `${link}/picture`, {}); // what needs nothing of the class's own

// They are here before the network goes.
for (const href of mistakes ? [mistakes.drawn, mistakes.wanted] : []) new Image().src = href;

let now = null; // about, tasks, trials, levels, and the present task with its answer so far

const ears = {
  set: "Arrow keys move the mark, Enter keeps it. The mark’s place is said in hundredths.",
  place: "Press into the figure, or move the two marks with the arrow keys; Enter keeps the dot.",
  pick: "Tab and Enter choose a box.", rank: "Keys 1 to 4 name the tones, from the lightest on; Backspace takes the last one back.",
  choose: "The arrow keys left and right choose too.",
};
const forSight = " This one is for the eye alone: with a screen reader take “A half, a third, a quarter”, whose words say where the mark belongs.";

async function begin(kind) {
  const about = kinds.find((k) => k.Kind === kind), tasks = about.Own ? await loaded : figures;
  if (!tasks.ready(about)) {
    say("This picture’s boxes are not here yet. Take another exercise.");
    return;
  }
  by("before").textContent = "";
  now = { about, tasks, n: 0, trials: [], off: [], right: 0, levels: [stairs.from, stairs.from] };
  by("kinds").hidden = true;
  by("end").hidden = true;
  by("run").hidden = false;
  by("ask").textContent = about.Name;
  for (const way of ["set", "place", "pick", "rank", "choose"]) by(way).hidden = about.Way !== way;
  by("by-ear").textContent = ears[about.Way] + (kind === "halve" ? "" : forSight);
  task();
}

const step = () => (now.about.Way === "choose" ? now.n % 2 : 0); // of two, two stairs are climbed by turns

const placed = () => now.about.Way === "set" || now.about.Way === "place"; // a mark is put, and its true place shown

function task() {
  by("count").textContent = `${now.n + 1} of ${now.about.Tasks}`;
  now.seen = false;
  by("next").hidden = true;
  const sign = step() ? -1 : 1;
  now.task = now.tasks.make(now.about.Kind, sign * now.levels[step()]);
  now.answer = now.task.start ?? (now.about.Way === "rank" ? [] : null);
  by("says").textContent = now.task.words;
  if (now.about.Way === "set") by("mark").value = String(Math.round(1000 * now.answer));
  if (now.about.Way === "place") [by("across").value, by("down").value] = now.answer.map((v) => String(Math.round(1000 * v)));
  if (now.about.Way === "pick") by("pick").replaceChildren(...now.task.options.map(option));
  if (placed()) by(now.about.Way).hidden = false;
  redraw();
  const first = { set: "mark", place: "across" }[now.about.Way];
  if (first) by(first).focus({ preventScroll: true });
}

// The true place beside what was set, at once.
function reveal() {
  const both = document.createElement("div"), mine = now.task.draw(now.answer), truth = now.task.draw(now.task.truth, true);
  both.className = "train-both";
  truth.classList.add("train-true");
  both.append(mine, truth);
  by("picture").replaceChildren(both);
  by("before").textContent = `${nearness(misses(now.task, now.answer))} It is ${now.task.told.charAt(0).toLowerCase()}${now.task.told.slice(1)} Yours is the brown mark, the true one is green.`;
  by(now.about.Way).hidden = true;
  by("next").hidden = false;
  by("go").focus({ preventScroll: true });
}

// By how much an answer misses, of marks that go from 0 to 1: one number, or two.
const misses = (task, answer) => [answer].flat().map((v, i) => v - [task.truth].flat()[i]);
const nearness = (off) => { const far = Math.hypot(...off); return far < 0.015 ? "Just right." : far < 0.04 ? "Very near." : far < 0.1 ? "Near." : "Some way off."; };

function option(label, i) {
  const b = document.createElement("button");
  b.type = "button";
  b.className = "btn btn-leaf";
  b.dataset.option = i;
  b.textContent = label;
  return b;
}

function redraw() {
  by("picture").replaceChildren(now.task.draw(now.answer));
  by("picture").setAttribute("aria-label", now.task.words);
  if (now.about.Way === "set") {
    by("mark").setAttribute("aria-valuetext", now.task.says(now.answer));
    by("read").textContent = now.task.value ? now.task.says(now.answer) : "";
  }
}

// What was answered; where differences are judged, the next one is smaller after a right
// answer and larger after a wrong one.
function keep() {
  now.trials.push(...now.task.trials(now.answer));
  const right = String(now.answer) === String(now.task.truth), i = step();
  if (placed()) now.off.push(misses(now.task, now.answer));
  else {
    now.right += right ? 1 : 0;
    by("before").textContent = right ? `Right. ${now.about.Drawn ? now.task.told : ""}` : `No. ${now.task.told}`;
  }
  now.levels[i] = right ? Math.max(stairs.least, now.levels[i] * stairs.down) : Math.min(stairs.most, now.levels[i] * stairs.up);
  now.n++;
  if (placed()) reveal();
  else next();
}

function next() {
  if (now.n < now.about.Tasks) task();
  else end();
}

// What was done is kept, also where somebody stops, if there is enough of it to measure.
const fewest = 6;
function end() {
  by("run").hidden = true;
  by("kinds").hidden = false;
  if (now.trials.length < fewest) return;
  queue.add(`${link}/train`, { kind: now.about.Kind, trials: now.trials.join(" ") });
  by("end").hidden = false;
  by("sum").textContent = summed();
  by("tries").replaceChildren(...(now.off.length ? [tries()] : []));
}

// One sentence of all tries.
function summed() {
  if (!now.off.length) return `${now.right} of ${now.n} right.`;
  const mean = (i) => now.off.reduce((s, off) => s + (off[i] ?? 0), 0) / now.off.length, far = now.off.reduce((s, off) => s + Math.hypot(...off), 0) / now.off.length;
  const [across, down] = [mean(0), mean(1)], say = [];
  const words = leans[now.about.Kind];
  if (words && Math.abs(across) > far / 2) say.push(words[across > 0 ? 1 : 0]);
  if (Math.abs(down) > far / 2) say.push(down > 0 ? "too low" : "too high");
  const size = far < 0.03 ? "by a hair" : far < 0.06 ? "a little" : "clearly";
  return say.length ? `Mostly ${say.join(" and ")}, ${size}.` : `Now to one side, now to the other, ${far < 0.03 ? "by a hair" : far < 0.06 ? "and never far" : "and some way off"}.`;
}
const leans = { along: ["too far up or left", "too far down or right"], halve: ["too short", "too long"], copy: ["too far left", "too far right"], leaves: ["too far left", "too far right"],
  mirror: ["too narrow", "too broad"], heads: ["too few", "too many"], angle: ["turned too far to the right", "turned too far to the left"] };

// All tries in one picture: where each lay beside its true place, which is the middle.
function tries() {
  const two = now.off[0].length > 1, high = two ? 60 : 24, s = node("svg", { viewBox: `0 0 120 ${high}`, role: "img", class: "train-tries",
    "aria-label": "Your tries around the true place" });
  node("path", { d: `M60 2v${high - 4}${two ? `M10 ${high / 2}h100` : ""}` }, s);
  const hold = (v) => Math.max(-1, Math.min(1, v / 0.25)); // a quarter of a side is at its edge
  now.off.forEach(([x, y], i) => node("circle", { cx: 60 + 55 * hold(x), cy: two ? high / 2 + (high / 2 - 4) * hold(y) : 5 + ((i * 5) % 15), r: 2 }, s));
  return s;
}

document.addEventListener("zesty:sent", (event) => {
  if (event.detail.one.url !== `${link}/train`) return;
  by("told").textContent = event.detail.ok ? "Kept, for you and your teacher." : event.detail.text;
});

by("mark").addEventListener("input", () => { now.answer = Number(by("mark").value) / 1000; redraw(); });
for (const [i, id] of ["across", "down"].entries()) by(id).addEventListener("input", () => { now.answer[i] = Number(by(id).value) / 1000; redraw(); });
for (const id of ["mark", "across", "down"]) by(id).addEventListener("keydown", (event) => {
  if (event.key !== "Enter") return;
  event.preventDefault(); // else it presses what gets the focus now
  keep();
});
by("stop").addEventListener("click", end);
by("go").addEventListener("click", next);

// A press into the figure puts the dot there.
by("picture").addEventListener("pointerdown", (event) => {
  const figure = event.target.closest("[data-dots]");
  if (now?.about.Way !== "place" || !figure) return;
  const [x, y, w, h] = figure.dataset.dots.split(" ").map(Number), [px, py] = at(figure, event);
  now.answer = [(px - x) / w, (py - y) / h].map((v) => Math.max(0, Math.min(1, v)));
  [by("across").value, by("down").value] = now.answer.map((v) => String(Math.round(1000 * v)));
  redraw();
});

function rank(i) {
  if (now.answer.includes(i) || i >= now.task.count) return;
  now.answer.push(i);
  if (now.answer.length === now.task.count) keep();
  else redraw();
}

root.addEventListener("click", (event) => {
  const has = (name) => event.target.closest(`[data-${name}]`)?.dataset[name];
  if (has("kind")) begin(has("kind"));
  if (has("side")) { now.answer = Number(has("side")); keep(); }
  if (has("option")) { now.answer = Number(has("option")); keep(); }
  if (has("tone")) rank(Number(has("tone")));
  if (event.target.closest("[data-keep]")) keep();
  if (event.target.closest("#train-back") && now.answer.length) { now.answer.pop(); redraw(); }
});

// What only keyboards and screen readers need is shown to who uses keys.
addEventListener("keydown", () => by("by-ear").classList.remove("visually-hidden"), { once: true });

addEventListener("keydown", (event) => {
  if (!now || by("run").hidden) return;
  const way = now.about.Way, side = { ArrowLeft: 1, ArrowRight: 0 }[event.key];
  if (way === "choose" && side !== undefined) { event.preventDefault(); now.answer = side; keep(); }
  if (way === "rank" && "1234".includes(event.key)) rank(Number(event.key) - 1);
  if (way === "rank" && event.key === "Backspace" && now.answer.length) { now.answer.pop(); redraw(); }
});

if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
root.dataset.ready = "yes";
