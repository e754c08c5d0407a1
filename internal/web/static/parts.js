// A student's page where parts with names are counted: views, points, areas. The whole picture
// stands beside them; ticks wait in a queue until the connection is back.

import { ownDesk, ownQueue } from "./owndesk.js";

const own = document.getElementById("own"), link = own.dataset.link, key = `zesty-own-${link}`;
const queue = ownQueue(key), forms = [...own.querySelectorAll("[data-part]")], whole = document.getElementById("own-whole");

function mark(form, on) {
  form.elements.on.value = on ? "0" : "1";
  form.querySelector("button").setAttribute("aria-pressed", on);
  document.getElementById("own-count").textContent = forms.filter((f) => f.elements.on.value === "0").length;
}

for (const form of forms) {
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const on = form.elements.on.value === "1";
    mark(form, on);
    queue.add(`${link}/ticks`, { label: form.dataset.part, on: on ? "1" : "0" });
  });
}
for (const { url, values } of queue.list()) { // what waits here is not the server's yet
  const form = url === `${link}/ticks` && forms.find((f) => f.dataset.part === values.label);
  if (form) mark(form, values.on === "1");
}
own.addEventListener("click", (event) => {
  const button = event.target.closest("[data-whole]");
  if (!button || !whole) return;
  button.setAttribute("aria-pressed", whole.classList.toggle(`whole-${button.dataset.whole}`));
});
ownDesk(link, queue, key, JSON.parse(own.dataset.desk).version);
