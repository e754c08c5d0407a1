// A student's own view through the frame: a photo, and the frame's four corners on it.

import { movable, placeOf } from "./handles.js";
import { node } from "./svg.js";

const page = document.getElementById("view-page"), input = document.getElementById("view"), svg = document.getElementById("view-photo");
const corners = document.getElementById("view-corners"), says = document.getElementById("view-says");
const names = ["Upper left corner", "Upper right corner", "Lower right corner", "Lower left corner"];
const starts = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]];

input.addEventListener("change", async () => {
  if (!input.files[0]) return;
  const address = URL.createObjectURL(input.files[0]), img = new Image();
  img.src = address;
  try { await img.decode(); } catch {
    says.textContent = "This tablet cannot show that file. Choose a photo.";
    return;
  }
  says.textContent = "";
  show(address, img.naturalWidth, img.naturalHeight);
});

function show(address, width, height) {
  const fresh = svg.cloneNode(false); // without what listened to the photo before
  document.getElementById("view-photo").replaceWith(fresh);
  fresh.setAttribute("viewBox", `0 0 ${width} ${height}`);
  node("image", { href: address, width, height }, fresh);
  const outline = node("polygon", { class: "own-outline" }, fresh);
  const handles = names.map((name, i) => node("g", { class: "handle", "data-name": name, "data-x": starts[i][0] * width, "data-y": starts[i][1] * height }, fresh));
  const told = () => {
    outline.setAttribute("points", handles.map((h) => placeOf(h).join(",")).join(" "));
    corners.value = handles.map((h) => { const [x, y] = placeOf(h); return `${x / width},${y / height}`; }).join(" ");
  };
  document.getElementById("view-framing").hidden = false;
  movable(fresh, told, told);
  page.dataset.framing = "yes";
}
page.dataset.ready = "yes";
