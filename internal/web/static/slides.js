// Drawings beside their picture, one after the other: by keys, by pressing, or by themselves.

const slides = [...document.querySelectorAll(".slide")], run = document.getElementById("slide-run");
let at = 0, timer = 0;

function show(to) {
  at = (to + slides.length) % slides.length;
  slides.forEach((slide, i) => { slide.toggleAttribute("data-later", i !== at); });
  for (const image of slides[(at + 1) % slides.length].querySelectorAll("img")) image.loading = "eager";
}

function running(on) {
  clearInterval(timer);
  if (on) timer = setInterval(() => show(at + 1), 10000);
  run.setAttribute("aria-pressed", on);
  run.textContent = on ? "Hold it" : "Let it run";
}

document.getElementById("slide-back").addEventListener("click", () => show(at - 1));
document.getElementById("slide-next").addEventListener("click", () => show(at + 1));
run.addEventListener("click", () => running(run.getAttribute("aria-pressed") !== "true"));
addEventListener("keydown", (event) => {
  if (event.target.closest?.("button, a") && event.key === " ") return;
  if (event.key === "ArrowRight" || event.key === "PageDown" || event.key === " ") { show(at + 1); event.preventDefault(); }
  if (event.key === "ArrowLeft" || event.key === "PageUp") { show(at - 1); event.preventDefault(); }
});
