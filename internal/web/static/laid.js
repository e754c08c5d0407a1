// A drawing and its picture, one over the other: the picture shows through as one likes, or blinks.

export function laidOver(part) {
  const over = (inside) => inside.closest("details").querySelector(".over");
  part.addEventListener("input", (event) => {
    if (event.target.matches("[data-over]")) over(event.target).setAttribute("opacity", event.target.value / 100);
  });
  part.addEventListener("click", (event) => {
    const button = event.target.closest("[data-blink]");
    button?.setAttribute("aria-pressed", button.getAttribute("aria-pressed") !== "true");
  });
  setInterval(() => { // slowly enough for everybody
    for (const button of part.querySelectorAll('[data-blink][aria-pressed="true"]')) {
      over(button).setAttribute("opacity", over(button).getAttribute("opacity") === "0" ? 1 : 0);
    }
  }, 800);
}
