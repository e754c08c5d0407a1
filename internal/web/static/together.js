// Eye training for a whole class at once: a task on the projector, everybody judges, then
// the answer is shown. Nothing is kept.

import { say } from "./banner.js";
import { tasksOf } from "./tasks.js";

const root = document.getElementById("together");
const kinds = JSON.parse(root.dataset.kinds), stairs = JSON.parse(root.dataset.stairs);
const tasks = tasksOf(JSON.parse(root.dataset.desk), root.dataset.picture, JSON.parse(root.dataset.boxes));
const by = (id) => document.getElementById(`together-${id}`);
let about = null, task = null, shown = false, difference = stairs.from;

function next() {
  task = tasks.make(about.Kind, Math.random() < 0.5 ? difference : -difference);
  shown = false;
  by("says").textContent = task.options ? `${task.words} ${task.options.join(", ")}?` : task.words;
  by("told").textContent = "";
  by("picture").replaceChildren(task.draw(null));
}

function reveal() {
  shown = true;
  by("picture").replaceChildren(task.draw(about.Way === "choose" ? null : task.truth));
  by("told").textContent = task.told;
}

const presses = {
  on() { shown ? next() : reveal(); },
  easier() { difference = Math.min(stairs.most, difference / stairs.down); next(); },
  harder() { difference = Math.max(stairs.least, difference * stairs.down); next(); },
};

function choose(kind) {
  const wanted = kinds.find((k) => k.Kind === kind);
  if (!tasks.ready(wanted)) {
    say("This picture’s boxes cannot be read. Take another exercise.");
    return;
  }
  about = wanted;
  for (const b of root.querySelectorAll("[data-kind]")) b.setAttribute("aria-pressed", String(b.dataset.kind === kind));
  next();
}

root.addEventListener("click", (event) => {
  const kind = event.target.closest("[data-kind]")?.dataset.kind, press = event.target.closest("[data-press]")?.dataset.press;
  if (kind) choose(kind);
  if (press && about) presses[press]();
});

const keys = { ArrowRight: "on", e: "easier", h: "harder" };
addEventListener("keydown", (event) => {
  const press = keys[event.key] ?? keys[event.key.toLowerCase()];
  if (!about || !press || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  presses[press]();
});
choose((kinds.find((k) => tasks.ready(k)) ?? kinds[0]).Kind); // the first one stands there when the page opens
root.dataset.ready = "yes";
