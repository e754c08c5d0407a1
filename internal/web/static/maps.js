// The cuts of a value map by hand: while a slider moves, its line on the
// histogram moves along; the map follows when it is let go.

document.addEventListener("input", (event) => {
  if (!event.target.matches("#histogram input[type=range]")) return;
  const sliders = [...document.querySelectorAll("#histogram input[type=range]")];
  const lines = [...document.querySelectorAll("#histogram svg path")].slice(-sliders.length);
  sliders.map((s) => s.valueAsNumber).sort((a, b) => a - b).forEach((cut, i) => lines[i].setAttribute("d", `M${cut} 0L${cut} 29`));
});
