// Exercises for the eye. They run on the tablet alone; what was judged waits in a queue
// until it can be sent, and the server measures it.

import { hush, say } from "./banner.js";
import { Queue } from "./queue.js";
import { at } from "./svg.js";
import { tasksOf } from "./tasks.js";

const root = document.getElementById("train"), link = root.dataset.link;
const desk = JSON.parse(root.dataset.desk), kinds = JSON.parse(root.dataset.kinds), stairs = JSON.parse(root.dataset.stairs);
const by = (id) => document.getElementById(`train-${id}`);
const queue = new Queue(`zesty-own-${link}-queue`, (waiting, state) => { state && waiting ? say("No connection. What you did is kept and will be sent.") : hush(); });
const loaded = fetch(`${link}/boxes`).then((a) => (a.ok ? a.json() : {})).catch(() => ({}))
  .then((boxes) => tasksOf(desk, `${link}/picture`, boxes));
const figures = tasksOf(desk, `${link}/picture`, {}); // what needs nothing of the class's own

let now = null; // about, tasks, trials, levels, and the present task with its answer so far

const ears = {
  set: "Arrow keys move the mark, Enter keeps it. The mark’s place is said in hundredths.",
  place: "Press into the empty box, or move the two marks with the arrow keys; Enter keeps the dot.",
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
  now = { about, tasks, n: 0, trials: [], levels: [stairs.from, stairs.from] };
  by("kinds").hidden = true;
  by("end").hidden = true;
  by("run").hidden = false;
  by("ask").textContent = about.Name;
  for (const way of ["set", "place", "pick", "rank", "choose"]) by(way).hidden = about.Way !== way;
  by("by-ear").textContent = ears[about.Way] + (kind === "halve" ? "" : forSight);
  task();
}

const step = () => (now.about.Way === "choose" ? now.n % 2 : 0); // of two, two stairs are climbed by turns

function task() {
  by("count").textContent = `${now.n + 1} of ${now.about.Tasks}`;
  const sign = step() ? -1 : 1;
  now.task = now.tasks.make(now.about.Kind, sign * now.levels[step()]);
  now.answer = now.task.start ?? (now.about.Way === "rank" ? [] : null);
  by("says").textContent = now.task.words;
  if (now.about.Way === "set") by("mark").value = String(Math.round(1000 * now.answer));
  if (now.about.Way === "place") [by("across").value, by("down").value] = now.answer.map((v) => String(Math.round(1000 * v)));
  if (now.about.Way === "pick") by("pick").replaceChildren(...now.task.options.map(option));
  redraw();
  const first = { set: "mark", place: "across" }[now.about.Way];
  if (first) by(first).focus({ preventScroll: true });
}

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
  now.levels[i] = right ? Math.max(stairs.least, now.levels[i] * stairs.down) : Math.min(stairs.most, now.levels[i] * stairs.up);
  if (++now.n < now.about.Tasks) { task(); return; }
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

by("mark").addEventListener("input", () => { now.answer = Number(by("mark").value) / 1000; redraw(); });
for (const [i, id] of ["across", "down"].entries()) by(id).addEventListener("input", () => { now.answer[i] = Number(by(id).value) / 1000; redraw(); });
for (const id of ["mark", "across", "down"]) by(id).addEventListener("keydown", (event) => { if (event.key === "Enter") keep(); });
by("stop").addEventListener("click", () => { by("run").hidden = true; by("kinds").hidden = false; });

// A press into the empty box puts the dot there, from 10 to 110 of its drawing.
by("picture").addEventListener("pointerdown", (event) => {
  const empty = event.target.closest("[data-empty]");
  if (now?.about.Way !== "place" || !empty) return;
  now.answer = at(empty, event).map((v) => Math.max(0, Math.min(1, (v - 10) / 100)));
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

addEventListener("keydown", (event) => {
  if (!now || by("run").hidden) return;
  const way = now.about.Way, side = { ArrowLeft: 1, ArrowRight: 0 }[event.key];
  if (way === "choose" && side !== undefined) { event.preventDefault(); now.answer = side; keep(); }
  if (way === "rank" && "1234".includes(event.key)) rank(Number(event.key) - 1);
  if (way === "rank" && event.key === "Backspace" && now.answer.length) { now.answer.pop(); redraw(); }
});

if ("serviceWorker" in navigator) navigator.serviceWorker.register("/s/worker.js", { scope: "/s/" }).catch(() => {});
root.dataset.ready = "yes";
