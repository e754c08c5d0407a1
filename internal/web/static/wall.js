// The wall: a tick shows at once and is sent in the background, also after a
// lost connection; changes by others come in as they happen.

import "./countdown.js";
import { hush, say } from "./banner.js";
import { Queue, counted } from "./queue.js";

const wall = document.getElementById("wall");

function tell(waiting, state) {
  if (!state) hush();
  if (state === "down") say(`No connection. Go on: ${counted(waiting)} and will be sent when it is back.`);
  if (state === "slowed") say(`Much is going on just now. Go on: ${counted(waiting)} and will be sent in a moment.`);
  if (state === "signed out") say(`You were signed out. ${counted(waiting)} here.`, { href: "/signin", words: "Sign in in a new tab, and they are sent." });
}

const queue = new Queue("zesty-ticks", tell);

// --- ticking ------------------------------------------------------------------

function show(student, label, on) {
  const tile = document.getElementById(`tile-${student}`);
  const rect = tile?.querySelector(`rect[data-label="${label}"]`);
  if (rect && rect.classList.contains("on") !== on) {
    rect.classList.toggle("on", on);
    const n = tile.querySelector(".n");
    n.textContent = Number(n.textContent) + (on ? 1 : -1);
  }
  const desk = document.getElementById("desk-in");
  if (desk?.dataset.student !== String(student)) return;
  const button = desk.querySelector(`[data-label="${label}"]`);
  if (button && (button.getAttribute("aria-pressed") === "true") !== on) {
    button.setAttribute("aria-pressed", on);
    button.textContent = on ? "✓" : "";
    const n = desk.querySelector(".n");
    n.textContent = Number(n.textContent) + (on ? 1 : -1);
  }
}

function tick(url, student, label, on) {
  show(student, label, on);
  queue.add(url, { label, on: on ? "1" : "0", plan: wall.dataset.plan });
}

wall.addEventListener("click", (event) => {
  const rect = event.target.closest(".tile rect[data-label]");
  if (rect) {
    const tile = rect.closest(".tile");
    tick(tile.dataset.ticks, tile.dataset.student, rect.dataset.label, !rect.classList.contains("on"));
    return;
  }
  if (event.target.closest("#fill-row")) return fillRow();
  if (event.target.closest("#undo-row")) return undoRow();
  const button = event.target.closest(".boxes button");
  if (button) {
    const desk = button.closest(".desk-in");
    tick(desk.dataset.ticks, desk.dataset.student, button.dataset.label, button.getAttribute("aria-pressed") !== "true");
  }
});

const steps = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

wall.addEventListener("keydown", (event) => {
  const cell = event.target.closest?.(".boxes td"), step = steps[event.key];
  if (!cell || !step) return;
  const row = cell.parentElement;
  row.parentElement.rows[row.sectionRowIndex + step[1]]?.cells[cell.cellIndex + step[0]]?.querySelector("button")?.focus();
  event.preventDefault();
});

// A button takes the focus from the box in hand, which is remembered.
let lastBox = null;
wall.addEventListener("focusin", (event) => { if (event.target.closest(".boxes")) lastBox = event.target; });

// The row of the box in hand, or the first that is not full.
function fillRow() {
  const desk = document.getElementById("desk-in");
  const rows = [...desk.querySelectorAll(".boxes tbody tr")];
  const row = (lastBox?.isConnected ? lastBox : document.activeElement).closest?.(".boxes tr") ?? rows.find((r) => r.querySelector('[aria-pressed="false"]'));
  const labels = [...(row?.querySelectorAll('[aria-pressed="false"]') ?? [])].map((button) => button.dataset.label);
  if (labels.length) swept = { url: desk.dataset.ticks, student: desk.dataset.student, labels };
  for (const label of labels) tick(desk.dataset.ticks, desk.dataset.student, label, true);
  sweepButton();
}

// The row that was filled last can be emptied again, of those boxes that it filled.
let swept = null;
function undoRow() {
  if (!swept) return;
  for (const label of swept.labels) tick(swept.url, swept.student, label, false);
  swept = null;
  sweepButton();
}

function sweepButton() {
  const button = document.getElementById("undo-row");
  if (button) button.hidden = swept?.student !== document.getElementById("desk-in").dataset.student;
}

addEventListener("keydown", (event) => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !event.target.closest?.("input, textarea")) return undoRow();
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, select, textarea")) return;
  const key = event.key.toLowerCase();
  if (key === "f") fillRow();
  else document.getElementById({ n: "next", p: "previous", h: "hand-down" }[key])?.click();
});

// The desk is replaced by each answer: the box in hand keeps the focus, and
// the tile of the student shown is marked.
let held = null;
function mark() {
  const shown = document.getElementById("desk-in")?.dataset.student;
  for (const tile of wall.querySelectorAll(".tile")) tile.toggleAttribute("data-shown", tile.dataset.student === shown);
}
document.addEventListener("htmx:beforeSwap", () => { held = document.activeElement?.id || held; });
document.addEventListener("htmx:afterSettle", () => {
  mark();
  sweepButton();
  if (held && (document.activeElement === document.body || !document.activeElement)) document.getElementById(held)?.focus();
});

// --- on a phone a student lies on top of the wall -------------------------------

const phone = matchMedia("(max-width: 39.99rem)"), deskSide = document.getElementById("desk");

function open() {
  if (!phone.matches) return;
  deskSide.classList.add("desk-open");
  document.body.style.overflow = "hidden";
  document.getElementById("desk-name")?.focus({ preventScroll: true });
}

function close() {
  if (!deskSide.classList.contains("desk-open")) return;
  deskSide.classList.remove("desk-open");
  document.body.style.overflow = "";
  wall.querySelector(".tile[data-shown] a")?.focus();
}

document.addEventListener("click", (event) => {
  if (event.target.closest("#desk-close")) return close();
  const tile = phone.matches && event.target.closest("#wall .tile");
  if (tile && !event.target.closest("a")) return tile.querySelector("a").click();
  if (event.target.closest("#first-to a, .tile-name")) document.addEventListener("htmx:afterSettle", open, { once: true });
});
addEventListener("keydown", (event) => { if (event.key === "Escape") close(); });
phone.addEventListener("change", close);
if (new URLSearchParams(location.search).has("student")) open();

// A finger that moves across goes to the next student, or back.
let from = null;
deskSide.addEventListener("touchstart", (event) => { from = event.touches.length === 1 ? event.touches[0] : null; }, { passive: true });
deskSide.addEventListener("touchend", (event) => {
  const to = event.changedTouches[0];
  if (!from || !phone.matches) return;
  const x = to.clientX - from.clientX, y = to.clientY - from.clientY;
  if (Math.abs(x) > 70 && Math.abs(x) > 2 * Math.abs(y)) document.getElementById(x < 0 ? "next" : "previous")?.click();
});

// --- as the class sits ----------------------------------------------------------

function seat(tile) {
  const { row, column } = tile.dataset;
  if (phone.matches || !row || !tile.closest("[data-seated]")) return;
  tile.style.gridRow = row;
  tile.style.gridColumn = column;
}
const seated = wall.querySelector("[data-seated]");
if (seated && !phone.matches) {
  const across = Math.max(...[...seated.querySelectorAll(".tile")].map((t) => Number(t.dataset.column ?? 1)));
  seated.style.gridTemplateColumns = `repeat(${across}, minmax(0, 1fr))`;
  for (const tile of seated.querySelectorAll(".tile")) seat(tile);
}

// --- live ---------------------------------------------------------------------

// What is still waiting here is shown as it will be, whatever the server knew.
function waiting() {
  for (const { url, values } of queue.list()) {
    const tile = [...wall.querySelectorAll(".tile")].find((t) => t.dataset.ticks === url);
    if (tile) show(tile.dataset.student, values.label, values.on === "1");
  }
}

// Changes that come close together are fetched together.
const stale = new Set();
let fetching = 0;

function refresh(student) {
  stale.add(String(student));
  fetching ||= setTimeout(fetchTiles, 400);
}

async function fetchTiles() {
  fetching = 0;
  const students = [...stale];
  stale.clear();
  const answer = await fetch(`${wall.dataset.tiles}?${students.map((s) => `student=${s}`).join("&")}`, { headers: { "HX-Request": "true" } }).catch(() => null);
  if (!answer?.ok) return;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  for (const fresh of page.querySelectorAll(".tile")) put(fresh);
  const first = page.getElementById("first-to");
  document.getElementById("first-to").replaceWith(first);
  htmx.process(first);
  waiting();
  mark();
}

function put(fresh) {
  const old = document.getElementById(fresh.id), student = fresh.dataset.student;
  if (!old) return;
  const focused = old.contains(document.activeElement);
  old.replaceWith(fresh);
  seat(fresh);
  htmx.process(fresh);
  if (focused) fresh.querySelector("a").focus();
  for (const rect of fresh.querySelectorAll("rect")) show(student, rect.dataset.label, rect.classList.contains("on"));
}

// The plan was changed: the wall is opened anew once all is sent.
let newer = false;
function anew() {
  newer = true;
  if (!queue.list().length) location.reload();
}
document.addEventListener("zesty:sent", () => newer && anew());

let lost = false;
const line = new EventSource(wall.dataset.live);
line.addEventListener("student", (event) => (event.data === "0" ? anew() : refresh(event.data)));
line.addEventListener("hello", () => {
  if (lost) for (const tile of wall.querySelectorAll(".tile")) refresh(tile.dataset.student); // what was missed meanwhile
  lost = false;
  if (!queue.list().length) tell(0, "");
  queue.flush();
});
line.addEventListener("error", () => {
  lost = true;
  tell(queue.list().length, "down");
});
document.addEventListener("zesty:sent", (event) => {
  if (event.detail.ok) return;
  document.getElementById("message").innerHTML = event.detail.text;
  const tile = [...wall.querySelectorAll(".tile")].find((t) => t.dataset.ticks === event.detail.one.url);
  if (tile) refresh(tile.dataset.student);
});
addEventListener("pagehide", () => line.close());
waiting();
