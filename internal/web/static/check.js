// The check table: corners and pins that a hand or the arrow keys move. What
// they measure is worked out by the server after every move.

import { at, node, unit } from "./svg.js";
import { Undo } from "./undo.js";

const table = document.getElementById("check");
const photo = document.getElementById("photo");
const reference = document.getElementById("reference");
const loupe = document.getElementById("loupe");
const width = Number(table.dataset.photoWidth), height = Number(table.dataset.photoHeight);

let cornered = table.hasAttribute("data-cornered");

const place = (point) => [Number(point.dataset.x), Number(point.dataset.y)];
const corners = () => [...photo.querySelectorAll(".corner")].sort((a, b) => a.dataset.corner - b.dataset.corner);
const pins = () => [...photo.querySelectorAll(".pin")];

function draw(point) {
  const svg = point.ownerSVGElement, u = unit(svg), [x, y] = place(point);
  point.setAttribute("transform", `translate(${x} ${y}) scale(${u})`);
  const state = point.classList.contains("pin") && svg === photo && !point.classList.contains("placed") ? ", not placed yet" : "";
  const number = point.querySelector("text")?.textContent ?? "";
  point.setAttribute("aria-label", `${number} ${point.dataset.name}, at ${Math.round(x)}, ${Math.round(y)}${state}`);
}

function drawAll() {
  for (const point of table.querySelectorAll(".pin, .corner")) draw(point);
  document.getElementById("outline").setAttribute("points", corners().map((c) => place(c).join(",")).join(" "));
  drawArrows();
}

// An arrow leads from where a placed point was drawn to where it belongs.
function drawArrows() {
  const group = document.getElementById("arrows"), u = unit(photo), all = wanted();
  group.replaceChildren();
  for (const pin of pins()) {
    const to = all[pin.dataset.mark];
    if (!to || !pin.classList.contains("placed")) continue;
    const [x, y] = place(pin), length = Math.hypot(to[0] - x, to[1] - y);
    if (length < 6 * u) continue;
    const dx = (to[0] - x) / length * 8 * u, dy = (to[1] - y) / length * 8 * u;
    const d = `M${x} ${y}L${to[0]} ${to[1]}M${to[0] - dx - dy} ${to[1] - dy + dx}L${to[0]} ${to[1]}L${to[0] - dx + dy} ${to[1] - dy - dx}`;
    node("path", { d }, group);
  }
}

function wanted() {
  return JSON.parse(document.getElementById("measured")?.dataset.wanted || "{}");
}

function addShapes(point) {
  const add = (name, attributes) => point.prepend(node(name, attributes));
  if (point.classList.contains("corner")) {
    const way = [[1, 1], [-1, 1], [-1, -1], [1, -1]][point.dataset.corner];
    add("path", { class: "tip", d: `M${way[0] * 18} 0H0V${way[1] * 18}` });
    add("circle", { class: "grip", cx: -9 * way[0], cy: -9 * way[1], r: 14 });
  } else {
    add("path", { class: "tip", d: "M-7 0H7M0 -7V7" });
    add("circle", { class: "grip", cx: 14, cy: -14, r: 12 });
    point.querySelector("text").setAttribute("transform", "translate(14 -9.5)");
  }
}

// --- moving -----------------------------------------------------------------

function clamp(svg, [x, y]) {
  const box = svg.viewBox.baseVal;
  const limit = (v, from, size) => Math.round(Math.min(Math.max(v, from), from + size) * 10) / 10;
  return [limit(x, box.x, box.width), limit(y, box.y, box.height)];
}

function move(point, to) {
  [point.dataset.x, point.dataset.y] = clamp(point.ownerSVGElement, to);
  draw(point);
  if (point.classList.contains("corner")) drawAll();
  magnify(point);
}

// The loupe shows the photo under the point, three times as large as the
// screen shows it, so that a thumb does not hide the corner.
function magnify(point) {
  if (point.ownerSVGElement !== photo) return;
  const [x, y] = place(point), span = 60 * unit(photo) / 3;
  const image = loupe.querySelector("image");
  if (!image.getAttribute("href")) {
    image.setAttribute("href", document.getElementById("photo-image").getAttribute("href").replace(/view$/, "full"));
    image.setAttribute("width", width);
    image.setAttribute("height", height);
    image.setAttribute("preserveAspectRatio", "none");
  }
  loupe.setAttribute("viewBox", `${x - span} ${y - span} ${2 * span} ${2 * span}`);
  loupe.querySelector("path").setAttribute("transform", `translate(${x} ${y}) scale(${span})`);
  loupe.classList.toggle("left", x > width / 2);
  loupe.hidden = false;
  loupe.removeAttribute("hidden");
}

const keepState = () => JSON.stringify({
  cornered,
  corners: corners().map(place),
  pins: pins().map((p) => [p.dataset.mark, place(p), p.classList.contains("placed")]),
});

function restore(state) {
  const s = JSON.parse(state);
  cornered = s.cornered;
  corners().forEach((c, i) => { [c.dataset.x, c.dataset.y] = s.corners[i]; });
  for (const [mark, xy, placed] of s.pins) {
    const pin = photo.querySelector(`.pin[data-mark="${mark}"]`);
    [pin.dataset.x, pin.dataset.y] = xy;
    pin.classList.toggle("placed", placed);
  }
  drawAll();
  send();
}

const undo = new Undo(keepState, restore);

// done records a finished move of a point and asks what it measures.
function done(point, before) {
  if (point.ownerSVGElement === reference) {
    post(`/projects/${table.dataset.project}/landmarks/${point.dataset.landmark}`, { place: place(point).join(","), checkin: table.dataset.checkin });
    return;
  }
  if (point.classList.contains("corner")) cornered = true;
  else point.classList.add("placed");
  undo.remember(before);
  draw(point);
  send();
}

const post = (url, values) => htmx.ajax("POST", url, { source: "#result", target: "#result", swap: "innerHTML", values });

function send() {
  post(table.dataset.places, {
    version: document.getElementById("measured").dataset.version,
    corners: cornered ? corners().map((c) => place(c).join(",")).join(" ") : "",
    marks: pins().filter((p) => p.classList.contains("placed")).map((p) => `${p.dataset.mark}:${place(p).join(",")}`).join(" "),
  });
}

// Pins that nobody placed stand where the point belongs.
document.addEventListener("htmx:afterSettle", () => {
  const all = wanted();
  for (const pin of pins()) {
    if (!pin.classList.contains("placed") && all[pin.dataset.mark]) [pin.dataset.x, pin.dataset.y] = all[pin.dataset.mark];
  }
  drawAll();
});

let drag = null;

table.addEventListener("pointerdown", (event) => {
  const point = event.target.closest(".pin, .corner");
  if (!point) return;
  const svg = point.ownerSVGElement, from = at(svg, event), start = place(point);
  drag = { point, svg, before: keepState(), shift: [start[0] - from[0], start[1] - from[1]], moved: false };
  point.setPointerCapture(event.pointerId);
  point.focus();
  magnify(point);
  event.preventDefault();
});

table.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const [x, y] = at(drag.svg, event);
  drag.moved = true;
  move(drag.point, [x + drag.shift[0], y + drag.shift[1]]);
});

for (const kind of ["pointerup", "pointercancel"]) {
  table.addEventListener(kind, () => {
    if (!drag) return;
    const { point, before, moved } = drag;
    drag = null;
    loupe.setAttribute("hidden", "");
    if (moved) done(point, before);
  });
}

reference.addEventListener("click", (event) => {
  if (event.target.closest(".pin")) return;
  post(`/projects/${table.dataset.project}/landmarks`, { place: clamp(reference, at(reference, event)).join(","), checkin: table.dataset.checkin });
});

const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
let nudge = null;

table.addEventListener("keydown", (event) => {
  const point = event.target.closest?.(".pin, .corner");
  if (!point) return;
  const way = arrows[event.key];
  if (way) {
    nudge ??= { point, before: keepState() };
    const size = unit(point.ownerSVGElement) * (event.shiftKey ? 10 : 1), [x, y] = place(point);
    move(point, [x + way[0] * size, y + way[1] * size]);
    event.preventDefault();
  } else if (event.key === "Enter" && point.ownerSVGElement === photo) {
    done(point, keepState());
    event.preventDefault();
  }
});

function finishNudge() {
  if (!nudge) return;
  const { point, before } = nudge;
  nudge = null;
  loupe.setAttribute("hidden", "");
  done(point, before);
}
table.addEventListener("keyup", (event) => { if (arrows[event.key]) finishNudge(); });
table.addEventListener("focusout", finishNudge);

for (const point of table.querySelectorAll(".pin, .corner")) addShapes(point);
new ResizeObserver(drawAll).observe(photo);
drawAll();
