// The bench: switching steps without losing what is typed, undo and redo,
// buttons that fill fields in, and the hand on the gridded picture. Every
// number is the server's; between two answers only lines are drawn.

import { at, node } from "./svg.js";
import { Undo } from "./undo.js";

const bench = document.getElementById("bench");
const form = document.getElementById("ask");
const fields = document.getElementById("fields");

// --- undo and redo ------------------------------------------------------------

const aside = ["step", "seen", "units_was"];
const read = () => Object.fromEntries([...form.elements].filter((e) => e.name && !aside.includes(e.name)).map((e) => [e.name, e.value]));
let present = read(), typing = 0;

const undo = new Undo(() => present, (state) => {
  present = state;
  for (const [name, value] of Object.entries(present)) form.elements[name].value = value;
  typing = 0;
  refresh();
});

// A run of typing in one field is one step back.
function remember() {
  const next = read();
  if (JSON.stringify(next) === JSON.stringify(present)) return;
  if (Date.now() - typing > 900) undo.remember(present);
  else undo.changed();
  typing = Date.now();
  present = next;
}

const refresh = () => htmx.trigger(fields, "refresh");

form.addEventListener("input", remember);

// --- leaving --------------------------------------------------------------------

// What was changed and not kept is asked about before the page goes.
let keptAs = JSON.stringify(read());
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt === form && event.detail.requestConfig.verb === "post" && event.detail.successful) keptAs = JSON.stringify(read());
});
addEventListener("beforeunload", (event) => {
  if (JSON.stringify(read()) !== keptAs) event.preventDefault();
});

// --- filling fields in --------------------------------------------------------

export function fill(values) {
  typing = 0;
  for (const [name, value] of Object.entries(values)) if (form.elements[name]) form.elements[name].value = value;
  remember();
  typing = 0;
  refresh();
}

// The server wrote units after bare numbers, because another unit is looked at.
document.addEventListener("zesty:spelled", (event) => {
  for (const name of Object.keys(event.detail)) if (form.elements[name]) form.elements[name].value = event.detail[name];
  present = read();
});

bench.addEventListener("click", (event) => {
  const button = event.target.closest("[data-set]");
  if (button) fill(JSON.parse(button.dataset.set));
});

// --- steps --------------------------------------------------------------------

document.addEventListener("click", (event) => {
  const link = event.target.closest(".rail a[data-step]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  bench.dataset.step = link.dataset.step;
  document.getElementById("step").value = link.dataset.step;
  for (const a of document.querySelectorAll(".rail a")) a.toggleAttribute("aria-current", false);
  link.setAttribute("aria-current", "step");
  history.replaceState(null, "", link.href);
  refresh();
});

// --- taking pictures in -------------------------------------------------------

document.querySelector("[data-camera]")?.addEventListener("click", () => {
  const input = document.getElementById("other");
  input.setAttribute("capture", "environment");
  input.click();
  input.removeAttribute("capture");
});

// --- the hand on the grid -----------------------------------------------------

let handLabel = null; // the box that has the keyboard, kept over an answer

function dress() {
  const overlay = document.getElementById("overlay");
  if (!overlay?.dataset.net || overlay.dataset.dressed) return;
  overlay.dataset.dressed = "yes";
  const net = JSON.parse(overlay.dataset.net), svg = overlay.querySelector("svg");
  svg.removeAttribute("role"); // it holds buttons now
  const layer = node("g", { class: "boxes-over", transform: `translate(${net.left} ${net.top})` }, svg);
  const columns = net.x.length - 1, boxes = [];
  net.labels.forEach((label, i) => {
    const c = i % columns, r = Math.floor(i / columns), parts = net.split?.[label] ?? 1;
    const box = node("rect", {
      x: net.x[c], y: net.y[r], width: net.x[c + 1] - net.x[c], height: net.y[r + 1] - net.y[r],
      tabindex: i === 0 ? 0 : -1, role: "button", "aria-label": `Box ${label}, ${parts === 1 ? "whole" : "divided in " + parts}`, "data-box": label,
    }, layer);
    box.addEventListener("click", () => divide(net, i));
    boxes.push(box);
  });
  layer.addEventListener("keydown", (event) => walk(event, boxes, columns, net));
  if (handLabel) hold(boxes, net.labels.indexOf(handLabel));
  if (net.squares) spacing(svg, layer, net);
}

function divide(net, i) {
  handLabel = net.labels[i];
  fill({ split: net.divided[i] });
}

function hold(boxes, i) {
  if (i < 0 || i >= boxes.length) return;
  for (const b of boxes) b.setAttribute("tabindex", -1);
  boxes[i].setAttribute("tabindex", 0);
  boxes[i].focus({ preventScroll: true });
}

function walk(event, boxes, columns, net) {
  const i = boxes.indexOf(event.target);
  if (i < 0) return;
  const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -columns, ArrowDown: columns }[event.key];
  if (step) {
    hold(boxes, i + step);
    event.preventDefault();
  } else if (event.key === "Enter" || event.key === " ") {
    divide(net, i);
    event.preventDefault();
  }
}

// The grip at the first crossing drags the squares' size, from one easy
// square to the next; the lines follow the hand and the server answers at the end.
function spacing(svg, layer, net) {
  const k = Math.max(net.x.at(-1), net.y.at(-1)) / 100;
  const grip = node("circle", {
    class: "spacing", cx: net.x[1], cy: net.y[1], r: 1.8 * k, tabindex: 0,
    role: "slider", "aria-label": "Size of the squares on the picture", "aria-valuemin": 0, "aria-valuemax": net.easy.length - 1,
  }, layer);
  const ghost = node("path", { class: "ghost-grid" }, layer);
  const nearest = (mm) => net.easy.reduce((best, s, i) => (Math.abs(s - mm) < Math.abs(net.easy[best] - mm) ? i : best), 0);
  let easy = nearest(net.x[1]), down = false;
  const say = () => { grip.setAttribute("aria-valuenow", easy); grip.setAttribute("aria-valuetext", net.names[easy]); };
  say();
  const show = () => {
    const s = net.easy[easy], [w, h] = [net.x.at(-1), net.y.at(-1)];
    let d = "";
    for (let x = s; x < w; x += s) d += `M${x} 0V${h}`;
    for (let y = s; y < h; y += s) d += `M0 ${y}H${w}`;
    ghost.setAttribute("d", d);
    ghost.setAttribute("stroke-width", 0.4 * k);
    grip.setAttribute("cx", Math.min(s, w));
    grip.setAttribute("cy", Math.min(s, h));
    say();
  };
  const settle = () => fill({ reference_square: net.names[easy], ...(form.elements.sheet_square.value ? { sheet_square: "" } : {}) });
  grip.addEventListener("pointerdown", (event) => { down = true; grip.setPointerCapture(event.pointerId); event.preventDefault(); });
  grip.addEventListener("pointermove", (event) => {
    if (!down) return;
    easy = nearest(Math.max(...at(layer, event)));
    show();
  });
  grip.addEventListener("pointerup", () => { if (down) settle(); down = false; });
  grip.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (step) {
      easy = Math.max(0, Math.min(net.easy.length - 1, easy + step));
      show();
      event.preventDefault();
      event.stopPropagation();
    } else if (event.key === "Enter") settle();
  });
}

document.addEventListener("htmx:afterSwap", dress);
dress();

// What was unfolded beside the picture stays so when the server writes it anew.
const folds = () => [...document.querySelectorAll("#bench details > summary")];
const called = (s) => `${s.textContent.trim()} ${s.closest("li")?.querySelector("b")?.textContent ?? ""}`;
let unfolded = [];
document.addEventListener("htmx:beforeSwap", () => { unfolded = folds().filter((s) => s.parentElement.open).map(called); });
document.addEventListener("htmx:afterSettle", () => {
  for (const s of folds()) if (unfolded.includes(called(s))) s.parentElement.open = true;
});
