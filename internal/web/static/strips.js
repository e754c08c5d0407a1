// The picture a strip at a time, about an inch broad, from an edge: what is still to come
// is covered. Of the same size a strip is laid, hovered over, lifted and dotted.

import { pictureIn } from "./boxview.js";
import { node } from "./svg.js";

const by = (id) => document.getElementById(`own-${id}`);
const hands = ["Lay it: picture and paper edge on edge.", "Hover: hold your pencil over the next point.", "Lift the picture with the other hand.", "Dot the place you saw. Lay it again."];

export class Strips {
  constructor(desk, href, key) {
    this.desk = desk;
    this.href = href;
    this.key = key;
    this.mode = "";
    this.state = { edge: "top", n: 1, hand: 0, ...JSON.parse(localStorage.getItem(key) ?? "{}") };
    by("edge").value = this.state.edge;
    by("edge").addEventListener("change", () => { this.state = { edge: by("edge").value, n: 1, hand: 0 }; this.show(); });
    by("stripnext").addEventListener("click", () => this.step(1));
    by("stripback").addEventListener("click", () => this.step(-1));
  }

  upright() { return this.state.edge === "top" || this.state.edge === "bottom"; }

  // How many strips there are, and how broad each is, in millimetres of the picture.
  strips() {
    const long = this.desk.size[this.upright() ? 1 : 0], count = Math.max(2, Math.round(long / this.desk.strip));
    return { count, broad: long / count };
  }

  step(way) {
    const s = this.state;
    if (this.mode === "same") {
      s.hand += way;
      if (s.hand > 3) { s.hand = 0; s.n++; }
      if (s.hand < 0) { s.hand = s.n > 1 ? 3 : 0; s.n--; }
    } else s.n += way;
    s.n = Math.max(1, Math.min(this.strips().count, s.n));
    this.show();
  }

  // The strip in hand, those before it open, those to come covered; upside down unless the
  // picture is laid on the paper.
  show() {
    localStorage.setItem(this.key, JSON.stringify(this.state));
    const [w, h] = this.desk.size, { count, broad } = this.strips(), { edge, n, hand } = this.state;
    const room = 0.04 * Math.max(w, h), turned = this.mode === "strips";
    const svg = node("svg", { viewBox: `${-room} ${-room} ${w + 2 * room} ${h + 2 * room}`, role: "img", "aria-label": `Strip ${n} of ${count}, from the ${edge}` });
    const g = node("g", turned ? { transform: `rotate(180 ${w / 2} ${h / 2})` } : {}, svg);
    pictureIn(node("svg", { width: w, height: h, viewBox: `0 0 ${w} ${h}` }, g), this.desk, this.href, {});
    // The edge is that of what is seen: turned round it is the picture's other one.
    const opposite = { top: "bottom", bottom: "top", left: "right", right: "left" }, from = turned ? opposite[edge] : edge;
    const open = n * broad, cover = { top: [0, open, w, h - open], bottom: [0, 0, w, h - open], left: [open, 0, w - open, h], right: [0, 0, w - open, h] }[from];
    const [x, y, cw, ch] = cover;
    node("rect", { x, y, width: Math.max(0, cw), height: Math.max(0, ch), class: "own-cover" }, g);
    const line = { top: [0, open - broad, w, 0], bottom: [0, h - open + broad, w, 0], left: [open - broad, 0, 0, h], right: [w - open + broad, 0, 0, h] }[from];
    node("path", { d: `M${line[0]} ${line[1]}l${line[2]} ${line[3]}`, class: "own-frame", "stroke-width": Math.max(w, h) / 250 }, g);
    by("picture").replaceChildren(svg);
    const past = n > count / 2;
    by("stripsays").textContent = (this.mode === "same" ? `${hands[hand]} ` : "") + `Strip ${n} of ${count}.` + (past ? " Past the middle: move the picture to the other side of your drawing." : "");
    by("stripback").disabled = n === 1 && hand === 0;
    by("stripnext").disabled = n === count && (this.mode !== "same" || hand === 3);
    by("stripnext").textContent = this.mode === "same" && hand < 3 ? "Next" : "Next strip";
    document.getElementById("own").classList.toggle("own-across", past);
  }

  // Switches a mode on, or all off where it is on.
  set(mode) {
    this.mode = this.mode === mode ? "" : mode;
    this.state.hand = 0;
    by("form").hidden = by("ask").hidden = Boolean(this.mode);
    by("stripkeys").hidden = by("stripsays").hidden = !this.mode;
    document.getElementById("own").classList.remove("own-across");
    if (this.mode) this.show();
    return this.mode;
  }
}
