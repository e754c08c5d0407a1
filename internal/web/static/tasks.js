// The tasks that train an eye: what each shows, how it is answered, and what the answer is.
//
// A task has words; draw(answer), which may be null; trials(answer), two numbers each as the
// server measures them; truth, the right answer, and told, that in words. Marks go from 0
// to 1; value(mark), where it is there, is what is sent of one, and says(mark) what is read.

import { boxView, pictureIn } from "./boxview.js";
import { node } from "./svg.js";

const parts = [["a quarter", 1 / 4], ["a third", 1 / 3], ["a half", 1 / 2], ["two thirds", 2 / 3], ["three quarters", 3 / 4], ["a fifth", 1 / 5], ["two fifths", 2 / 5],
  ["three fifths", 3 / 5], ["four fifths", 4 / 5], ["a sixth", 1 / 6], ["an eighth", 1 / 8], ["a tenth", 1 / 10]];
const any = (list) => list[Math.floor(Math.random() * list.length)];
const between = (a, b) => a + (b - a) * Math.random();
const shuffled = (list) => list.map((v) => [Math.random(), v]).sort((a, b) => a[0] - b[0]).map((pair) => pair[1]);
const hundredths = (mark) => `${Math.round(100 * mark)} hundredths`;
// A share as people say it, with its hundredths: "a little more than a third (37 hundredths)".
function said(share) {
  const [name, of] = [...parts, ["nothing", 0], ["the whole", 1]].sort((a, b) => Math.abs(a[1] - share) - Math.abs(b[1] - share))[0];
  return Math.abs(share - of) < 0.015 ? name : `a little ${share > of ? "more" : "less"} than ${name} (${hundredths(share)})`;
}
const tone = (light) => `hsl(0 0% ${Math.max(0, Math.min(100, 100 * light))}%)`;

function svg(w, h, label = "The figure") { return node("svg", { viewBox: `0 0 ${w} ${h}`, role: "img", "aria-label": label }); }

function pairOf(...parts) {
  const pair = document.createElement("div");
  pair.append(...parts);
  return pair;
}

// An empty box; places in it go from 0 to 1.
function emptyBox(dot) {
  const s = svg(120, 120, "The empty box");
  node("rect", { x: 10, y: 10, width: 100, height: 100, class: "own-frame", "stroke-width": 1 }, s);
  if (dot) node("circle", { cx: 10 + 100 * dot[0], cy: 10 + 100 * dot[1], r: 3, class: "own-dot" }, s);
  s.dataset.dots = "10 10 100 100";
  return s;
}

// A part of one's own drawing over the picture; slid is by how much the drawing is moved, back and forth.
function laidOver(mine, [x, y, w, h], slid = [0, 0], label = "Your drawing over the picture") {
  const s = node("svg", { viewBox: `${x} ${y} ${w} ${h}`, role: "img", "aria-label": label, class: "train-laid" });
  node("image", { href: mine.wanted, width: mine.w, height: mine.h }, s);
  node("image", { href: mine.drawn, width: mine.w, height: mine.h, x: slid[0], y: slid[1], class: "train-own" }, s);
  return s;
}

const marked = (shown, more) => ({ trials: (mark) => [`${shown.toFixed(4)},${(more.value ? more.value(mark) : mark).toFixed(4)}`], says: hundredths, start: between(0.15, 0.85), ...more });
const chosen = (difference, more) => ({ truth: difference > 0 ? 1 : 0, told: difference > 0 ? "The left one." : "The right one.",
  trials: (left) => [`${difference.toFixed(4)},${left}`], ...more });

// tasksOf makes tasks of a class's own boxes and picture, of a student's own mistakes, and of figures. Every
// other of a box's is of one in which something went wrong.
export function tasksOf(desk, href, boxes, mine = null, again = new Set()) {
  const crossings = [], filled = [];
  const often = (list, label) => {
    const wrong = list.filter((one) => again.has(label(one)));
    return any(wrong.length && Math.random() < 0.5 ? wrong : list);
  };
  for (const b of desk.order) {
    const dots = boxes[b.label]?.dots ?? [];
    if (dots.length) filled.push(b);
    for (const [x, y] of dots) {
      const upright = x === 0 || x === 1, along = upright ? y : x;
      if (along > 0.04 && along < 0.96) crossings.push({ b, x, y, upright, along });
    }
  }

  const make = {
    along() {
      const c = often(crossings, (one) => one.b.label), side = c.x === 0 ? "left" : c.x === 1 ? "right" : c.y === 0 ? "top" : "bottom";
      const [cx, cy] = [c.b.x + c.x * c.b.w, c.b.y + c.y * c.b.h], line = Math.max(c.b.w, c.b.h) / 250;
      return marked(c.along, { truth: c.along, told: `${said(c.along)} from the ${c.upright ? "top" : "left"}.`,
        words: `How far along the ${side} side, from the ${c.upright ? "top" : "left"}?`, draw(mark) {
          const seen = boxView(desk, c.b, href, {});
          node("circle", { cx, cy, r: 11 * line, class: "train-ring", "stroke-width": 3 * line }, seen.querySelector("g"));
          return pairOf(seen, emptyBox(mark === null ? null : c.upright ? [c.x, mark] : [mark, c.y]));
        } });
    },
    copy() {
      const b = often(filled, (one) => one.label), at = [between(0.08, 0.92), between(0.08, 0.92)], line = Math.max(b.w, b.h) / 250;
      return { truth: at, told: `${said(at[0])} across, ${said(at[1])} down.`, start: [0.5, 0.5], words: "Put the dot in the same place of the empty box.",
        trials: (dot) => [0, 1].map((i) => `${at[i].toFixed(4)},${dot[i].toFixed(4)}`), draw(dot) {
          const seen = boxView({ ...desk, around: 0 }, b, href, {});
          node("circle", { cx: b.x + at[0] * b.w, cy: b.y + at[1] * b.h, r: 7 * line, class: "own-dot", "stroke-width": 2 * line }, seen.querySelector("g"));
          return pairOf(seen, emptyBox(dot));
        } };
    },
    which() {
      const of = shuffled(filled).slice(0, 6), right = of[0], options = of.map((b) => b.label).sort();
      return { truth: options.indexOf(right.label), told: `${right.label}.`, options, words: "This box is upside down. Which one is it?",
        trials: (i) => [`${options.length},${options[i] === right.label ? 1 : 0}`], draw(i) {
          const [w, h] = desk.size, whole = svg(w, h);
          pictureIn(node("svg", { width: w, height: h, viewBox: `0 0 ${w} ${h}` }, whole), desk, href);
          for (const b of of) {
            node("rect", { x: b.x, y: b.y, width: b.w, height: b.h, class: options[i] === b.label ? "train-ring" : "own-frame", "stroke-width": Math.max(w, h) / 200 }, whole);
            node("text", { x: b.x + b.w / 2, y: b.y + b.h * 0.62, class: "train-label", "font-size": b.h * 0.34 }, whole).textContent = b.label;
          }
          return pairOf(boxView({ ...desk, around: 0 }, right, href, { upside: true }), whole);
        } };
    },
    yours() {
      const m = any(mine.slid), left = Math.random() < 0.5 ? 0 : 1, home = m.off.map((v) => -v);
      return { truth: left, told: `The ${left ? "second" : "first"} one. ${m.say}`, options: ["The first one", "The second one"],
        words: `Your drawing lies over the pale picture, in ${m.label}. In one it is slid into its place. Which is yours?`,
        trials: (i) => [`2,${i === left ? 1 : 0}`], draw() {
          return pairOf(...[0, 1].map((i) => laidOver(mine, m.part, i === left ? [0, 0] : home, i ? "The second one" : "The first one")));
        } };
    },
    leaves() {
      const m = any(mine.leaves), [x, y, w, h] = m.part, truth = [(m.off[0] - x) / w, (m.off[1] - y) / h];
      return { truth, told: `Where the green mark stands. ${m.say}`, start: [0.5, 0.5], words: "Press where your line first leaves the picture’s line.",
        trials: (dot) => [0, 1].map((i) => `${truth[i].toFixed(4)},${dot[i].toFixed(4)}`), draw(dot, bare) {
          const s = laidOver(mine, m.part);
          if (bare) s.replaceChildren();
          s.dataset.dots = m.part.join(" ");
          if (dot) node("circle", { cx: x + dot[0] * w, cy: y + dot[1] * h, r: Math.max(w, h) / 45, class: "own-dot", "stroke-width": Math.max(w, h) / 150 }, s);
          return s;
        } };
    },
    halve() {
      const [name, shown] = any(parts), long = between(70, 110), x = between(5, 115 - long);
      return marked(shown, { truth: shown, told: "The mark stands right.", words: `Set the mark at ${name} of the line, from the left.`, draw(mark) {
        const s = svg(120, 30);
        node("path", { d: `M${x} 15h${long}M${x} 11v8M${x + long} 11v8`, class: "train-line" }, s);
        if (mark !== null) node("path", { d: `M${x + mark * long} 8v14`, class: "train-mark" }, s);
        return s;
      } });
    },
    mirror() {
      const edge = [8, 30, 55, 80, 104].map((y) => [between(0.25, 0.95), y]), at = 1 + Math.floor(3 * Math.random()), [shown, y] = edge[at];
      return marked(shown, { truth: shown, told: "As far out as on the left.", words: "Both halves are alike. Where does the right edge stand, at the line?", draw(mark) {
        const s = svg(120, 112), left = edge.map(([out, down]) => `${60 - 48 * out} ${down}`);
        node("path", { d: `M60 8L${left.join("L")}L60 104`, class: "train-line" }, s);
        node("path", { d: "M60 2v108", class: "own-split", "stroke-width": 0.8 }, s);
        node("path", { d: `M60 ${y}h56`, class: "own-split", "stroke-width": 0.8 }, s);
        if (mark !== null) node("path", { d: `M${60 + 48 * mark} ${y - 6}v12`, class: "train-mark" }, s);
        return s;
      } });
    },
    heads() {
      const shown = between(2, 8.5), value = (mark) => 1.5 + 7.5 * mark, top = 104 / shown;
      return marked(shown, { truth: (shown - 1.5) / 7.5, told: `${shown.toFixed(1)} times.`, value, says: (mark) => `${value(mark).toFixed(1)} times`,
        words: "How many times does the dark top fit into the whole height?", draw(mark) {
          const s = svg(120, 112), wide = Math.min(26, top * 0.8);
          if (mark === (shown - 1.5) / 7.5) for (let y = 4; y < 108.5; y += top) node("path", { d: `M${60 + wide} ${y}h14`, class: "train-mark" }, s); // told: it is laid out
          node("rect", { x: 60 - wide / 2, y: 4, width: wide, height: top, rx: wide / 4, class: "train-top" }, s);
          node("path", { d: `M${60 - wide * 0.8} ${4 + top}h${1.6 * wide}L${60 + wide * 0.5} 108h${-wide}Z`, class: "train-line" }, s);
          return s;
        } });
    },
    angle() {
      const shown = Math.round(between(-89, 89)), value = (mark) => mark * 180 - 90;
      const arm = (s, deg, y, css) => { const r = (deg * Math.PI) / 180, dx = 24 * Math.cos(r), dy = -24 * Math.sin(r); node("path", { d: `M${60 - dx} ${y - dy}L${60 + dx} ${y + dy}`, class: css }, s); };
      return marked(shown, { truth: (shown + 90) / 180, told: `${Math.abs(shown)}° ${shown < 0 ? "falling" : "rising"} to the right.`, value, says: (mark) => `${Math.round(value(mark))} degrees`,
        start: 0.5, words: "Turn the lower line until it leans as the upper one does.", draw(mark) {
          const s = svg(120, 110);
          arm(s, shown, 27, "train-line");
          if (mark !== null) arm(s, value(mark), 83, "train-mark");
          return s;
        } });
    },
    level(difference) {
      const upright = Math.random() < 0.5, long = between(34, 46), rise = long * Math.min(0.5, Math.max(-0.5, difference));
      const x = between(56, 64), y = between(46, 54);
      return chosen(difference, { words: upright ? "To which side does its top lean?" : "Which end is higher?", told: difference > 0 ? "Left." : "Right.", draw() {
        const s = svg(120, 100);
        node("path", { d: upright ? `M${x - rise} ${y - long}L${x + rise} ${y + long}` : `M${x - long} ${y - rise}L${x + long} ${y + rise}`, class: "train-line" }, s);
        return s;
      } });
    },
    longer(difference) {
      const [xl, yl, xr, yr] = [between(6, 10), between(8, 32), between(64, 68), between(8, 32)];
      const mean = between(34, 44), l = mean * (1 + difference / 2), r = mean * (1 - difference / 2);
      return chosen(difference, { words: "Which line is longer?", draw() {
        const s = svg(120, 40);
        node("path", { d: `M${xl} ${yl}h${l}`, class: "train-line" }, s);
        node("path", { d: `M${xr} ${yr}h${r}`, class: "train-line" }, s);
        return s;
      } });
    },
    darker(difference) {
      const mean = between(0.35, 0.65);
      return chosen(difference, { words: "Which tone is darker?", draw() {
        const s = svg(120, 60);
        node("rect", { x: 8, y: 8, width: 44, height: 44, fill: tone(mean - difference / 2) }, s);
        node("rect", { x: 68, y: 8, width: 44, height: 44, fill: tone(mean + difference / 2) }, s);
        return s;
      } });
    },
    order(difference) {
      const step = Math.min(0.2, Math.abs(difference)), first = between(0.2, 0.8 - 3 * step), lights = shuffled([0, 1, 2, 3]).map((i) => first + i * step);
      const truth = [0, 1, 2, 3].sort((a, b) => lights[b] - lights[a]), place = (i) => `${8 + 28 * i}`;
      return { truth, told: `From the lightest: ${truth.map((i) => i + 1).join(", ")}.`, words: "Press the tones from the lightest to the darkest.", count: 4,
        // Pairs of which none shares a tone: by how much the left one is darker, and whether it was said to be.
        trials: (list) => [[0, 1], [2, 3]].map(([i, j]) => `${(lights[j] - lights[i]).toFixed(4)},${list.indexOf(i) > list.indexOf(j) ? 1 : 0}`), draw(list) {
          const s = svg(120, 44);
          lights.forEach((light, i) => {
            node("rect", { x: place(i), y: 6, width: 20, height: 30, fill: tone(light), "data-tone": i, class: "train-tone" }, s);
            const n = (list ?? []).indexOf(i);
            if (n >= 0) node("text", { x: 18 + 28 * i, y: 43, class: "train-label", "font-size": 6 }, s).textContent = n + 1;
          });
          return s;
        } };
    },
  };

  return {
    // whether there is anything of the class's own to judge by
    ready: (about) => (about.Drawn ? Boolean(mine?.[about.Kind === "yours" ? "slid" : "leaves"].length) : !about.Own || (desk.picture && (about.Kind === "along" ? crossings.length > 0 : filled.length >= (about.Kind === "which" ? 2 : 1)))),
    make: (kind, difference) => make[kind](difference),
  };
}
