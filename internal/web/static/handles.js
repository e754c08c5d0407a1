// Handles on a picture that a finger or the arrow keys move: groups of class "handle" with
// their place in data-x and data-y, in the picture's own pixels.

import { at, node, unit } from "./svg.js";

const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const inside = (v, most) => Math.round(Math.min(Math.max(v, 0), most) * 10) / 10;

export const placeOf = (handle) => [Number(handle.dataset.x), Number(handle.dataset.y)];

// Makes a drawing's handles movable. moving is told of every move, moved of each that ended.
export function movable(svg, moving, moved) {
  const handles = () => [...svg.querySelectorAll(".handle")];
  const name = (handle) => handle.setAttribute("aria-label", `${handle.dataset.name}, at ${placeOf(handle).map(Math.round).join(", ")}`);
  const draw = (handle) => {
    const [x, y] = placeOf(handle), u = unit(svg);
    handle.setAttribute("transform", `translate(${x} ${y}) scale(${u})`);
    name(handle);
    moving(handle);
  };
  const put = (handle, [x, y]) => {
    const box = svg.viewBox.baseVal;
    handle.dataset.x = inside(x, box.width);
    handle.dataset.y = inside(y, box.height);
    draw(handle);
  };
  for (const handle of handles()) {
    node("circle", { class: "grip", r: 14 }, handle);
    node("path", { class: "tip", d: "M-22 0H-6M22 0H6M0 -22V-6M0 22V6" }, handle);
    handle.setAttribute("tabindex", "0");
    handle.setAttribute("role", "button");
    name(handle); // before the drawing's size is known
  }

  let drag = null, nudged = null;
  svg.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".handle");
    if (!handle) return;
    const [x, y] = placeOf(handle), from = at(svg, event);
    drag = { handle, shift: [x - from[0], y - from[1]], moved: false };
    handle.setPointerCapture(event.pointerId);
    handle.focus();
    event.preventDefault();
  });
  svg.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const [x, y] = at(svg, event);
    drag.moved = true;
    put(drag.handle, [x + drag.shift[0], y + drag.shift[1]]);
  });
  for (const kind of ["pointerup", "pointercancel"]) {
    svg.addEventListener(kind, () => {
      const ended = drag;
      drag = null;
      if (ended?.moved) moved(ended.handle);
    });
  }
  svg.addEventListener("keydown", (event) => {
    const handle = event.target.closest?.(".handle"), way = arrows[event.key];
    if (!handle || !way) return;
    const step = unit(svg) * (event.shiftKey ? 10 : 1), [x, y] = placeOf(handle);
    put(handle, [x + way[0] * step, y + way[1] * step]);
    nudged = handle;
    event.preventDefault();
  });
  const settle = () => {
    const ended = nudged;
    nudged = null;
    if (ended) moved(ended);
  };
  svg.addEventListener("keyup", (event) => { if (arrows[event.key]) settle(); });
  svg.addEventListener("focusout", settle);
  new ResizeObserver(() => handles().forEach(draw)).observe(svg);
}
