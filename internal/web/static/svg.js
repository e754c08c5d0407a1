// Drawing on an SVG: making nodes, and carrying places between screen and drawing.

const ns = "http://www.w3.org/2000/svg";

// node makes an element with attributes, at the end of a parent if there is one.
export function node(name, attributes, parent) {
  const n = document.createElementNS(ns, name);
  for (const [key, value] of Object.entries(attributes)) n.setAttribute(key, value);
  parent?.append(n);
  return n;
}

// unit is the length in a drawing that is one pixel of the screen, whatever the scale.
export function unit(svg) {
  const m = svg.getScreenCTM();
  return m ? 1 / Math.hypot(m.a, m.b) : 1;
}

// at is the place in a drawing, or in a part of it, under the pointer.
export function at(part, event) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(part.getScreenCTM().inverse());
  return [p.x, p.y];
}
