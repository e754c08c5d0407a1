// Several pictures brought to one height: points pressed on each, their lines across it, and
// what comes of them, worked out by the server after every move.

import { movable, placeOf } from "./handles.js";

const page = document.getElementById("views");

const post = (url, values) => htmx.ajax("POST", url, { source: "#lined", target: "#lined", swap: "outerHTML", values });

for (const svg of page.querySelectorAll("svg.pressing")) {
  movable(svg, (handle) => {
    const line = svg.querySelector(`line[data-of="${CSS.escape(handle.dataset.what)}"]`), [, y] = placeOf(handle);
    line.setAttribute("y1", y);
    line.setAttribute("y2", y);
  }, (handle) => {
    const place = placeOf(handle).join(",");
    if (handle.dataset.mark) post(`${svg.dataset.at}/marks`, { name: handle.dataset.mark, place });
    else post(svg.dataset.at, { [handle.dataset.what]: place });
  });
}
page.dataset.ready = "yes";
