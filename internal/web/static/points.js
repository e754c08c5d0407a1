// Points on a picture: a press adds one, a finger or the arrow keys move it.

import { movable, placeOf } from "./handles.js";
import { at } from "./svg.js";

const svg = document.getElementById("points");
const post = (values) => htmx.ajax("POST", svg.dataset.at, { source: svg, swap: "none", values });

movable(svg, () => {}, (handle) => post({ point: handle.dataset.point, place: placeOf(handle).join(",") }));
svg.addEventListener("click", (event) => {
  if (event.target.closest(".handle")) return;
  post({ place: at(svg, event).map((v) => Math.round(v * 10) / 10).join(",") });
});
svg.dataset.ready = "yes";
