// Who sits where: names are dragged to seats, or moved by keys; the numbers beside hold it.

const room = document.getElementById("seats"), rows = Number(room.dataset.rows), columns = Number(room.dataset.columns);
const people = [...document.querySelectorAll("#seats-numbers tr[data-student]")].map((tr) => {
  const [row, column] = tr.querySelectorAll("input");
  return { name: tr.querySelector("th").textContent, row, column };
});
const wait = document.createElement("div"), grid = document.createElement("div");
wait.className = "seats-wait";
grid.className = "seats-grid";
room.append(grid, wait);
grid.style.gridTemplateColumns = `repeat(${columns}, minmax(0, 1fr))`;
grid.style.gridTemplateRows = `repeat(${rows}, 3rem)`;
for (let i = 0; i < rows * columns; i++) {
  const seat = Object.assign(document.createElement("span"), { className: "seat" });
  seat.style.gridArea = `${Math.floor(i / columns) + 1} / ${(i % columns) + 1}`;
  grid.append(seat);
}

const at = (row, column) => people.find((p) => Number(p.row.value) === row && Number(p.column.value) === column);

function place(p) {
  const row = Number(p.row.value), column = Number(p.column.value), sits = row >= 1 && row <= rows && column >= 1 && column <= columns;
  p.chip.style.gridRow = sits ? row : "";
  p.chip.style.gridColumn = sits ? column : "";
  (sits ? grid : wait).append(p.chip);
  p.chip.setAttribute("aria-label", sits ? `${p.name}, row ${row}, column ${column}` : `${p.name}, without a seat`);
}

// Gives somebody a seat; whoever has it takes theirs.
function give(p, row, column) {
  if (row < 1 || row > rows || column < 1 || column > columns) return;
  const other = at(row, column), focused = document.activeElement === p.chip;
  if (other && other !== p) {
    [other.row.value, other.column.value] = [p.row.value, p.column.value];
    place(other);
  }
  [p.row.value, p.column.value] = [row, column];
  place(p);
  if (focused) p.chip.focus();
}

function free() {
  for (let row = 1; row <= rows; row++) for (let column = 1; column <= columns; column++) if (!at(row, column)) return [row, column];
  return [0, 0];
}

for (const p of people) {
  p.chip = Object.assign(document.createElement("button"), { type: "button", className: "chip", textContent: p.name });
  for (const input of [p.row, p.column]) input.addEventListener("change", () => place(p));
  p.chip.addEventListener("keydown", (event) => {
    const way = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (!way) return;
    event.preventDefault();
    const [row, column] = p.row.value ? [Number(p.row.value) + way[0], Number(p.column.value) + way[1]] : free();
    give(p, row, column);
  });
  p.chip.addEventListener("pointerdown", (event) => {
    p.chip.setPointerCapture(event.pointerId);
    p.chip.classList.add("dragged");
    const from = [event.clientX, event.clientY];
    const move = (e) => { p.chip.style.translate = `${e.clientX - from[0]}px ${e.clientY - from[1]}px`; };
    const drop = (e) => {
      p.chip.removeEventListener("pointermove", move);
      p.chip.classList.remove("dragged");
      p.chip.style.translate = "";
      if (e.type === "pointercancel" || Math.hypot(e.clientX - from[0], e.clientY - from[1]) < 6) return;
      const box = grid.getBoundingClientRect();
      give(p, Math.ceil(((e.clientY - box.top) / box.height) * rows), Math.ceil(((e.clientX - box.left) / box.width) * columns));
    };
    p.chip.addEventListener("pointermove", move);
    p.chip.addEventListener("pointerup", drop, { once: true });
    p.chip.addEventListener("pointercancel", drop, { once: true });
  });
  place(p);
}
document.getElementById("seats-fill").addEventListener("click", () => {
  const across = Math.min(columns, Math.max(4, Math.ceil(Math.sqrt(people.length * 1.5))));
  for (const p of people) [p.row.value, p.column.value] = ["", ""];
  people.forEach((p, i) => { [p.row.value, p.column.value] = [Math.floor(i / across) + 1, (i % across) + 1]; place(p); });
});
document.getElementById("seats-clear").addEventListener("click", () => {
  for (const p of people) {
    [p.row.value, p.column.value] = ["", ""];
    place(p);
  }
});
