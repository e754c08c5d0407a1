// Guess, then see: before the dots appear one says where lines cross the sides of a box.
// A guess is a place [x, y] on a side, in parts of the box; so is a crossing.

import { at } from "./svg.js";

const near = 0.06, reach = 0.3, beside = 0.25; // a mark is taken back; a guess belongs to a crossing; a press belongs to a side
const upright = ([x]) => x === 0 || x === 1;
const along = (p) => (upright(p) ? p[1] : p[0]);
const sideOf = ([x, y]) => (x === 0 ? "left" : x === 1 ? "right" : y === 0 ? "top" : "bottom");
export const onSide = (side, t) => ({ left: [0, t], right: [1, t], top: [t, 0], bottom: [t, 1] })[side];

// press returns the guesses after a press on a box's drawing: a mark more, or one taken back.
export function press(guesses, svg, b, event) {
  const [px, py] = at(svg.querySelector("g"), event), x = (px - b.x) / b.w, y = (py - b.y) / b.h;
  const hold = (v) => Math.max(0, Math.min(1, v));
  const [gap, side, t] = [[Math.abs(y), "top", x], [Math.abs(1 - y), "bottom", x], [Math.abs(x), "left", y], [Math.abs(1 - x), "right", y]].sort((a, c) => a[0] - c[0])[0];
  if (gap > beside) return guesses;
  const place = onSide(side, hold(t)), same = guesses.findIndex((g) => sideOf(g) === side && Math.abs(along(g) - along(place)) < near);
  return same < 0 ? [...guesses, place] : guesses.filter((_, i) => i !== same);
}

// compared returns pairs [guess, crossing] on the same side, the nearest first, and how many of each stand alone.
export function compared(guesses, dots) {
  const all = guesses.flatMap((g, i) => dots.map((d, j) => ({ i, j, off: sideOf(g) === sideOf(d) ? Math.abs(along(g) - along(d)) : 2 })))
    .filter((p) => p.off <= reach).sort((a, b) => a.off - b.off);
  const pairs = [], guess = new Set(), dot = new Set();
  for (const { i, j } of all) {
    if (guess.has(i) || dot.has(j)) continue;
    guess.add(i);
    dot.add(j);
    pairs.push([guesses[i], dots[j]]);
  }
  return { pairs, extra: guesses.length - pairs.length, unseen: dots.filter((_, j) => !dot.has(j)) };
}

const mean = (list) => list.reduce((s, v) => s + v, 0) / Math.max(1, list.length);
const missed = ([g, d]) => Math.abs(along(g) - along(d));

// lean says to which side guesses mostly went; empty where to none.
export function lean({ pairs }) {
  const inward = mean(pairs.map(([g, d]) => Math.abs(along(d) - 0.5) - Math.abs(along(g) - 0.5)));
  return pairs.length > 1 && Math.abs(inward) > 0.03 ? `Mostly a little too near the ${inward > 0 ? "middle" : "corners"}.` : "";
}

// wrong tells whether a crossing was missed by so much that it is worth another try.
export const wrong = ({ pairs, extra, unseen }) => extra + unseen.length > 0 || pairs.some((p) => missed(p) >= 0.08);

// told says in a few words how guesses went.
export function told({ pairs, extra, unseen }) {
  const say = [], miss = mean(pairs.map(missed));
  if (pairs.length) say.push(miss < 0.03 ? "Very near." : miss < 0.08 ? "Near." : "Some way off: look at the marks on the sides first.");
  if (lean({ pairs })) say.push(lean({ pairs }));
  if (unseen.length) say.push(unseen.length === 1 ? "One crossing you did not mark: it has a ring." : `${unseen.length} crossings you did not mark: they have rings.`);
  if (extra) say.push(extra === 1 ? "At one of your marks no line crosses." : `At ${extra} of your marks no line crosses.`);
  return say.length ? say.join(" ") : "No line crosses this box’s sides.";
}

// trials are what the server measures: where a crossing is, and where it was put.
export const trials = ({ pairs }) => pairs.map(([g, d]) => `${along(d).toFixed(4)},${along(g).toFixed(4)}`);
