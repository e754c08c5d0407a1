// The viewfinder: a frame over the picture that is moved, sized and turned by
// hand, by keys or by typing. Where it may lie is the server's to say; here it
// is only kept on the picture while the hand holds it.

import { fill } from "./bench.js";
import { at, node, unit } from "./svg.js";

const form = document.getElementById("ask");
const ratioField = document.getElementById("ratio");
const angleField = document.getElementById("angle");
const slide = document.getElementById("angle-slide");

let svg = null, f = null, parts = null, locked = 0, held = null;

const rad = (deg) => (deg * Math.PI) / 180;
const clampAngle = (a) => ((a % 360) + 540) % 360 - 180;

// toPicture carries a place in the frame, from its middle, to the picture.
function toPicture(x, y) {
  const sin = Math.sin(rad(f.angle)), cos = Math.cos(rad(f.angle));
  return [f.x + x * cos - y * sin, f.y + x * sin + y * cos];
}

function fromPicture(px, py) {
  const sin = Math.sin(rad(f.angle)), cos = Math.cos(rad(f.angle)), x = px - f.x, y = py - f.y;
  return [x * cos + y * sin, -x * sin + y * cos];
}

const corners = () => [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([i, j]) => toPicture((i * f.w) / 2, (j * f.h) / 2));

function inside() {
  return corners().every(([x, y]) => x >= -0.5 && y >= -0.5 && x <= f.width + 0.5 && y <= f.height + 0.5);
}

// keepIn moves the frame back onto the picture, and makes it smaller if it must.
function keepIn() {
  for (let i = 0; i < 60 && !inside(); i++) {
    const xs = corners().map((c) => c[0]), ys = corners().map((c) => c[1]);
    const wide = Math.max(...xs) - Math.min(...xs), high = Math.max(...ys) - Math.min(...ys);
    const k = Math.min(1, f.width / wide, f.height / high);
    f.w *= k; f.h *= k;
    const xs2 = corners().map((c) => c[0]), ys2 = corners().map((c) => c[1]);
    f.x += Math.max(0, -Math.min(...xs2)) - Math.max(0, Math.max(...xs2) - f.width);
    f.y += Math.max(0, -Math.min(...ys2)) - Math.max(0, Math.max(...ys2) - f.height);
  }
}

function build() {
  svg = document.getElementById("viewfinder");
  if (!svg || svg.dataset.built) return;
  svg.dataset.built = "yes";
  f = JSON.parse(svg.dataset.frame);
  parts = {
    shade: node("path", { class: "vf-shade", "fill-rule": "evenodd" }, svg),
    body: node("path", {
      class: "vf-body", tabindex: 0, role: "application", "aria-label": "Viewfinder. Arrows move it, plus and minus size it, brackets turn it.",
    }, svg),
    ticks: node("path", { class: "vf-ticks" }, svg),
    top: node("path", { class: "vf-top" }, svg),
    grips: ["Top left", "Top right", "Bottom right", "Bottom left"].map((name, i) => {
      const g = node("rect", { class: "vf-grip", "data-i": i }, svg);
      g.setAttribute("aria-hidden", "true");
      return g;
    }),
    turn: node("circle", { class: "vf-turn" }, svg),
  };
  parts.body.addEventListener("keydown", keys);
  svg.addEventListener("pointerdown", take);
  svg.addEventListener("pointermove", drag);
  svg.addEventListener("pointerup", drop);
  svg.addEventListener("pointercancel", drop);
  draw();
  if (held === "keys") parts.body.focus({ preventScroll: true });
}

function draw() {
  const c = corners(), u = unit(svg);
  const path = "M" + c.map((p) => p.map((v) => v.toFixed(1)).join(" ")).join("L") + "Z";
  parts.shade.setAttribute("d", `M0 0H${f.width}V${f.height}H0Z ${path}`);
  parts.body.setAttribute("d", path);
  parts.body.setAttribute("stroke-width", 2.5 * u);
  const line = (a, b) => `M${toPicture(...a).join(" ")}L${toPicture(...b).join(" ")}`;
  // Ticks at the halves and quarters of every side.
  const ticks = [-1 / 4, 0, 1 / 4].flatMap((t) => {
    const long = (t === 0 ? 16 : 9) * u;
    return [-1, 1].flatMap((side) => [
      line([t * f.w, (side * f.h) / 2], [t * f.w, side * (f.h / 2 - long)]),
      line([(side * f.w) / 2, t * f.h], [side * (f.w / 2 - long), t * f.h])]);
  });
  parts.ticks.setAttribute("d", ticks.join(""));
  parts.ticks.setAttribute("stroke-width", 2 * u);
  // The frame's upper side is drawn double, so that a turned frame shows its top.
  const inset = 7 * u;
  parts.top.setAttribute("d", line([-f.w / 2 + inset, -f.h / 2 + inset], [f.w / 2 - inset, -f.h / 2 + inset]));
  parts.top.setAttribute("stroke-width", 2.5 * u);
  const size = 18 * u;
  parts.grips.forEach((g, i) => {
    const [x, y] = c[i];
    const place = { x: x - size / 2, y: y - size / 2, width: size, height: size, transform: `rotate(${f.angle} ${x} ${y})`, "stroke-width": 2 * u };
    for (const [k, v] of Object.entries(place)) g.setAttribute(k, v);
  });
  const [tx, ty] = toPicture(0, -f.h / 2 + 30 * u);
  for (const [k, v] of Object.entries({ cx: tx, cy: ty, r: 10 * u, "stroke-width": 2 * u })) parts.turn.setAttribute(k, v);
  if (document.activeElement !== angleField) angleField.value = Math.round(f.angle * 10) / 10;
  slide.value = f.angle;
}

const num = (v) => String(Math.round(v * 100) / 100);
function send() {
  fill({ frame: `${num(f.x)},${num(f.y)} ${num(f.w)}x${num(f.h)} ${num(f.angle)}${f.mirror ? " mirror" : ""}` });
}

function changed() {
  keepIn();
  draw();
}

// --- the hand -----------------------------------------------------------------

let grab = null;

function take(event) {
  const p = at(svg, event);
  if (event.target === parts.turn) grab = { kind: "turn" };
  else if (event.target.classList.contains("vf-grip")) {
    const i = Number(event.target.dataset.i);
    grab = { kind: "size", still: corners()[(i + 2) % 4], sign: [[-1, -1], [1, -1], [1, 1], [-1, 1]][i] };
  } else if (event.target === parts.body) grab = { kind: "move", dx: f.x - p[0], dy: f.y - p[1] };
  else return;
  svg.setPointerCapture(event.pointerId);
  parts.body.focus({ preventScroll: true });
  event.preventDefault();
}

function drag(event) {
  if (!grab) return;
  const [px, py] = at(svg, event), before = { ...f };
  grab.moved = true;
  if (grab.kind === "move") {
    f.x = px + grab.dx;
    f.y = py + grab.dy;
    changed();
    return;
  }
  if (grab.kind === "turn") {
    f.angle = clampAngle((Math.atan2(py - f.y, px - f.x) * 180) / Math.PI + 90);
    const quarter = Math.round(f.angle / 90) * 90;
    if (Math.abs(f.angle - quarter) < 2) f.angle = clampAngle(quarter); // settles upright
  } else {
    const [sx, sy] = grab.still, cos = Math.cos(rad(f.angle)), sin = Math.sin(rad(f.angle));
    let w = ((px - sx) * cos + (py - sy) * sin) * grab.sign[0], h = (-(px - sx) * sin + (py - sy) * cos) * grab.sign[1];
    w = Math.max(f.least, w); h = Math.max(f.least, h);
    if (locked) [w, h] = w / locked > h ? [w, w / locked] : [h * locked, h];
    f.w = w; f.h = h;
    const x = (grab.sign[0] * w) / 2, y = (grab.sign[1] * h) / 2;
    f.x = sx + x * cos - y * sin;
    f.y = sy + x * sin + y * cos;
    if (!inside()) f = before;
  }
  if (grab.kind === "turn") keepIn();
  draw();
}

function drop() {
  const moved = grab?.moved;
  grab = null;
  if (moved) { held = "keys"; send(); }
}

// --- keys, buttons, fields ----------------------------------------------------

let settle = 0;
function later() {
  clearTimeout(settle);
  held = "keys";
  settle = setTimeout(send, 350);
}

function keys(event) {
  const big = event.shiftKey ? 10 : 1, step = big * Math.max(1, f.width / 400);
  const moves = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
  if (moves[event.key]) { f.x += moves[event.key][0]; f.y += moves[event.key][1]; }
  else if (["+", "=", "-", "−", "_"].includes(event.key)) {
    const k = "+=".includes(event.key) ? 1 + 0.01 * big : 1 / (1 + 0.01 * big);
    f.w = Math.max(f.least, f.w * k); f.h = Math.max(f.least, f.h * k);
  } else if ("[]{}".includes(event.key)) f.angle = clampAngle(f.angle + ("[{".includes(event.key) ? -0.5 : 0.5) * big);
  else return;
  event.preventDefault();
  changed();
  later();
}

document.querySelector(".at-compose")?.addEventListener("click", (event) => {
  const what = event.target.closest("[data-compose]")?.dataset.compose;
  if (!what || !svg?.isConnected) return;
  held = null;
  if (what === "left" || what === "right") {
    f.angle = clampAngle(f.angle + (what === "left" ? -90 : 90));
    if (locked) locked = 1 / locked;
  } else if (what === "mirror") f.mirror = !f.mirror;
  else { fill({ frame: "" }); return; }
  changed();
  send();
});

function turnTo(value) {
  const angle = parseFloat(String(value).replace(",", ".").replace("−", "-"));
  if (!svg?.isConnected || Number.isNaN(angle)) return;
  held = null;
  f.angle = clampAngle(angle);
  changed();
  clearTimeout(settle);
  settle = setTimeout(send, 350);
}
angleField.addEventListener("change", () => turnTo(angleField.value));
slide.addEventListener("input", () => turnTo(slide.value));
for (const field of [angleField, slide, ratioField]) field.addEventListener("input", (event) => event.stopPropagation());

ratioField.addEventListener("change", () => {
  const choice = ratioField.value;
  locked = choice === "paper" ? f.paper : choice === "now" ? f.w / f.h : Number(choice) || 0;
  if (!locked || !svg?.isConnected) return;
  if (f.w / f.h > locked) f.w = f.h * locked;
  else f.h = f.w / locked;
  changed();
  send();
});

document.addEventListener("htmx:afterSwap", build);
addEventListener("resize", () => { if (svg?.isConnected) draw(); });
build();
