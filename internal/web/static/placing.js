// The drawing on the final paper, moved by a finger or the arrow keys: its corner is written into the form, which
// is then asked again.

import { movable, placeOf } from "./handles.js";

const form = () => document.getElementById("ask");
const written = (mm, unit) => (unit === "in" ? `${Math.round((mm / 25.4) * 16) / 16} in` : unit === "cm" ? `${Math.round(mm * 2) / 20} cm` : `${Math.round(mm * 2) / 2} mm`);

function bind() {
  for (const svg of document.querySelectorAll("svg.placing:not([data-ready])")) {
    svg.dataset.ready = "yes";
    movable(svg, () => {}, (handle) => {
      const [x, y] = placeOf(handle);
      const within = (v, most) => written(Math.min(v, Number(most)), svg.dataset.unit); // it stays on the paper, above the strip
      form().elements.left.value = within(x, svg.dataset.across);
      form().elements.top.value = within(y, svg.dataset.down);
      form().elements.top.dispatchEvent(new Event("change", { bubbles: true }));
    });
  }
}

bind();
document.body.addEventListener("htmx:afterSettle", bind);
