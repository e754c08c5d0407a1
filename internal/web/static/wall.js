// Ticking boxes by pointer on the small maps and by keyboard on the large one.

const wall = document.getElementById("wall");

// A tap on a box of a small map ticks it, or takes the tick back.
wall.addEventListener("click", (event) => {
  const box = event.target.closest(".tile rect[data-label]");
  if (!box) return;
  const tile = box.closest(".tile");
  htmx.ajax("POST", tile.dataset.ticks, {
    source: "#desk", // one queue for all ticks
    target: `#${tile.id}`,
    swap: "outerHTML",
    values: { label: box.dataset.label, on: box.classList.contains("on") ? "0" : "1" },
  });
});

const steps = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

wall.addEventListener("keydown", (event) => {
  const cell = event.target.closest?.(".boxes td");
  const step = steps[event.key];
  if (!cell || !step) return;
  const row = cell.parentElement;
  const to = row.parentElement.rows[row.sectionRowIndex + step[1]]?.cells[cell.cellIndex + step[0]];
  to?.querySelector("button")?.focus();
  event.preventDefault();
});

addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, select, textarea")) return;
  const button = { n: "next", p: "previous" }[event.key.toLowerCase()];
  if (button) document.getElementById(button)?.click();
});

// The large map is replaced by each answer: the box in hand keeps the focus,
// and the tile of the student shown is marked.
let held = null;
document.addEventListener("htmx:beforeSwap", () => { held = document.activeElement?.id || held; });
document.addEventListener("htmx:afterSettle", () => {
  const shown = document.getElementById("desk-in")?.dataset.student;
  for (const tile of wall.querySelectorAll(".tile")) tile.toggleAttribute("data-shown", tile.dataset.student === shown);
  if (held && (document.activeElement === document.body || !document.activeElement)) document.getElementById(held)?.focus();
});
