// How a drawing and its picture are looked at: laid over one another, blinking,
// side by side, mirrored, upside down, through half-closed eyes. One key each.

const table = document.getElementById("check");
const looks = document.getElementById("looks");
const modes = [...document.querySelectorAll("[data-mode][aria-pressed]")];
const turns = [...document.querySelectorAll("[data-turn]")];

// The way of looking stays from page to page: on to the next photo, or back
// from adding a landmark.
const kept = "zesty-look";

function setMode(mode) {
  looks.dataset.mode = mode;
  table.classList.toggle("placing", mode === "place");
  table.classList.toggle("looking", mode !== "place");
  for (const b of modes) b.setAttribute("aria-pressed", String(b.dataset.mode === mode));
  dispatchEvent(new Event("resize"));
}

function toggle(turn) {
  const on = looks.toggleAttribute(`data-${turn}`);
  turns.find((b) => b.dataset.turn === turn).setAttribute("aria-pressed", String(on));
}

// The pictures are made anew whenever corners or pins have moved.
function load() {
  const measured = document.getElementById("measured");
  const straight = measured?.hasAttribute("data-straight");
  for (const b of [...modes, ...turns]) b.disabled = !straight && b.dataset.mode !== "place";
  if (!straight) { setMode("place"); return; }
  const version = measured.dataset.version;
  for (const [part, file] of [["drawn", "straight.jpg"], ["arrows", "marks.svg"], ["wanted", "wanted.jpg"]]) {
    const image = looks.querySelector(`img.${part}`), address = `${looks.dataset.address}/${file}?v=${version}`;
    if (image.getAttribute("src") !== address) image.src = address;
  }
  ghosts(JSON.parse(measured.dataset.slides || "[]"));
}

// A ghost is a piece of the drawing over itself, that slides to where it belongs.
function ghosts(slides) {
  const sheet = looks.querySelector(".lookdrawing"), drawn = sheet.querySelector("img.drawn").src;
  for (const old of sheet.querySelectorAll(".ghost")) old.remove();
  const button = turns.find((b) => b.dataset.turn === "slid");
  button.hidden = slides.length === 0;
  if (button.hidden && looks.hasAttribute("data-slid")) toggle("slid");
  for (const s of slides) {
    const ghost = document.createElement("div"), share = (v) => `${100 * v}%`;
    ghost.className = "ghost";
    Object.assign(ghost.style, {
      left: share(s.X), top: share(s.Y), width: share(s.W), height: share(s.H), backgroundImage: `url("${drawn}")`,
      backgroundSize: `${share(1 / s.W)} ${share(1 / s.H)}`, backgroundPosition: `${share(s.X / (1 - s.W))} ${share(s.Y / (1 - s.H))}`,
    });
    ghost.style.setProperty("--into-place", `translate(${share(s.Right)}, ${share(s.Down)}) rotate(${s.Turn}deg) scale(${s.Grow})`);
    sheet.append(ghost);
  }
}

for (const b of modes) b.addEventListener("click", () => {
  setMode(b.dataset.mode);
  sessionStorage.setItem(kept, b.dataset.mode);
});
for (const b of turns) b.addEventListener("click", () => toggle(b.dataset.turn));

addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, select, textarea")) return;
  const key = event.key.toLowerCase();
  const button = [...modes, ...turns].find((b) => b.getAttribute("aria-keyshortcuts") === key);
  if (button && !button.disabled) button.click();
  else if (key === "n") document.getElementById("next-photo")?.click();
});

document.addEventListener("htmx:afterSettle", load);
if (modes.some((b) => b.dataset.mode === sessionStorage.getItem(kept))) setMode(sessionStorage.getItem(kept));
load();
