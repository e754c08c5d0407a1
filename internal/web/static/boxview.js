// One box of the picture, large, with quarter marks, and as much help to see it as is
// asked for: dots where lines cross its sides, and the lines themselves.

import { node } from "./svg.js";

// The picture, placed in millimetres of the reference, as the looks want it: grey, squint,
// tones.
export function pictureIn(parent, desk, href, looks = {}) {
  const transform = `matrix(${desk.picture.join(" ")})`;
  const within = node("g", looks.squint ? { class: "own-squint" } : {}, parent);
  const image = node("image", { href, width: 1000, height: 1000, preserveAspectRatio: "none", transform }, within);
  if (looks.tones) image.setAttribute("filter", "url(#own-tones)");
  else if (looks.grey) image.setAttribute("class", "own-grey");
}

// The shapes that stay empty between a box's lines, each another colour than its neighbour.
function emptyOn(g, b, box) {
  box.empty.forEach((ring, i) => {
    node("polygon", { points: ring.map(([x, y]) => `${b.x + x * b.w},${b.y + y * b.h}`).join(" "), class: i % 2 ? "own-empty own-other" : "own-empty" }, g);
  });
}

// The part that is shown: the box, its whole row, or all of the picture.
function view(desk, b, { strip, whole }) {
  if (whole) return { x: 0, y: 0, w: desk.size[0], h: desk.size[1] };
  if (!strip) return b;
  const row = desk.order.filter((o) => o.row === b.row);
  return { x: Math.min(...row.map((o) => o.x)), y: b.y, w: row.reduce((s, o) => s + o.w, 0), h: b.h, row: b.row };
}

function helpOn(g, b, box, help, line) {
  const place = ([x, y]) => `${b.x + x * b.w} ${b.y + y * b.h}`;
  box.lines.slice(0, help.lines).forEach((points, i) => {
    node("path", { d: `M${points.map(place).join("L")}`, class: help.latest && i === help.lines - 1 ? "own-line own-now" : "own-line", "stroke-width": 4 * line }, g);
  });
  const dot = ([x, y], r, css) => node("circle", { cx: b.x + x * b.w, cy: b.y + y * b.h, r: r * line, class: css, "stroke-width": 1.5 * line }, g);
  if (help.dots) for (const p of box.dots) dot(p, 4.5, "own-dot");
  if (help.dots && help.guessed) {
    for (const p of help.guessed.unseen) dot(p, 10, "own-unseen");
    for (const two of help.guessed.pairs) node("path", { d: `M${two.map(place).join("L")}`, class: "own-miss", "stroke-width": 3 * line }, g);
  }
  for (const [x, y] of help.guesses ?? []) { // a cross, so that colour does not tell it from a dot alone
    const [cx, cy, r] = [b.x + x * b.w, b.y + y * b.h, 6 * line], d = `M${cx - r} ${cy - r}l${2 * r} ${2 * r}m0 ${-2 * r}l${-2 * r} ${2 * r}`;
    for (const [css, wide] of [["own-guess own-halo", 5], ["own-guess", 2.5]]) node("path", { d, class: css, "stroke-width": wide * line }, g);
  }
}

// Quarter marks on a box's own sides, to read fractions by.
function quarters(g, v, long, line) {
  for (const t of [0.25, 0.5, 0.75]) {
    const r = long * (t === 0.5 ? 0.5 : 0.3), px = v.x + v.w * t, py = v.y + v.h * t;
    const d = [v.y, v.y + v.h].map((y) => `M${px} ${y - r}v${2 * r}`).concat([v.x, v.x + v.w].map((x) => `M${x - r} ${py}h${2 * r}`)).join("");
    for (const [css, wide] of [["own-ticks own-halo", 4], ["own-ticks", 1.6]]) node("path", { d, class: css, "stroke-width": wide * line }, g);
  }
}

// Returns the drawing of a box. looks: upside, mirror, grey, squint, tones, empty, strip, halves, whole; box and help,
// { dots, lines, latest, guesses, guessed }, may be missing: latest marks the last of the lines shown, guesses are
// places that were marked before the dots are seen, and guessed how those compare.
export function boxView(desk, b, href, looks, box, help) {
  const v = view(desk, b, looks), k = looks.whole ? 0 : desk.around, x = v.x - v.w * k, y = v.y - v.h * k, w = v.w * (1 + 2 * k), h = v.h * (1 + 2 * k);
  const room = 0.07 * Math.max(w, h);
  const svg = node("svg", { viewBox: `${x - room} ${y - room} ${w + 2 * room} ${h + 2 * room}`, role: "img", "aria-label": `Box ${b.label}` });
  const down = looks.upside ? -1 : 1, across = looks.mirror ? -down : down;
  const turned = node("g", { transform: `translate(${x + w / 2} ${y + h / 2}) scale(${across} ${down}) translate(${-x - w / 2} ${-y - h / 2})` }, svg);
  pictureIn(node("svg", { x, y, width: w, height: h, viewBox: `${x} ${y} ${w} ${h}` }, turned), desk, href, looks);
  const line = Math.max(w, h) / 300;
  if (looks.whole) {
    for (const [css, wide] of [["own-ring own-halo", 7], ["own-ring", 4]]) node("rect", { x: b.x, y: b.y, width: b.w, height: b.h, class: css, "stroke-width": wide * line / 2 }, turned);
    return svg;
  }
  node("rect", { x: v.x, y: v.y, width: v.w, height: v.h, class: "own-frame", "stroke-width": 1.6 * line }, turned);
  const parts = looks.halves ? 4 : b.split;
  for (const one of looks.strip ? desk.order.filter((o) => o.row === v.row) : [b]) {
    if (looks.strip) node("path", { d: `M${one.x} ${one.y}V${one.y + one.h}`, class: "own-frame", "stroke-width": line }, turned);
    for (let i = 1; i < parts; i++) {
      const d = `M${one.x + (one.w * i) / parts} ${one.y}v${one.h}M${one.x} ${one.y + (one.h * i) / parts}h${one.w}`;
      node("path", { d, class: "own-split", "stroke-width": line }, turned);
    }
  }
  quarters(turned, v, room, line);
  if (box && looks.empty && !looks.strip) emptyOn(turned, b, box);
  if (box && help && !looks.strip) helpOn(turned, b, box, help, line);
  return svg;
}
