// Photos go to the server one by one and are measured there: each shows what
// became of it, a lost connection loses none that arrived, the rest can be sent
// again, and the page may be left once all are sent.

const form = document.getElementById("takein");
const input = document.getElementById("photo");
const queue = document.getElementById("queue");
const lines = document.getElementById("queue-lines");
const bar = document.getElementById("queue-bar");
const words = document.getElementById("queue-words");
const stop = document.getElementById("queue-stop");
const again = document.getElementById("queue-again");
const shown = document.getElementById("queue-done");

let rest = [], all = 0, refused = 0, running = null;

form.addEventListener("submit", (event) => {
  if (input.files.length === 0) return;
  event.preventDefault();
  rest = [...input.files];
  all = rest.length;
  refused = 0;
  lines.replaceChildren();
  queue.hidden = false;
  run();
});

async function run() {
  running = new AbortController();
  stop.hidden = false;
  again.hidden = shown.hidden = true;
  while (rest.length > 0 && running) {
    say();
    if (!(await send(rest[0]))) break;
    rest.shift();
  }
  running = null;
  stop.hidden = true;
  again.hidden = rest.length === 0;
  say();
  listen();
}

// working are the photos on this page that wait or are being measured.
const working = () => new Set([...document.querySelectorAll("[data-lines] .working")].map((li) => li.dataset.job));

function say() {
  if (!all) return;
  bar.max = all;
  if (rest.length > 0) {
    bar.value = all - rest.length;
    words.textContent = `Sending ${Math.min(all, all - rest.length + 1)} of ${all}`;
    return;
  }
  const open = working().size;
  bar.value = all - open;
  const not = refused ? `, ${refused} not` : "";
  words.textContent = open > 0 ? `${all - open} of ${all} done. You may leave this page: the rest is measured meanwhile` : `${all - refused} of ${all} taken in${not}`;
  shown.hidden = lines.children.length === 0 || open > 0;
}

// send returns false where the photo did not get there and stays in the queue.
async function send(file) {
  const body = new FormData();
  body.append("student", form.elements.student?.value ?? "");
  if (all > 1) body.append("many", "1");
  body.append("photo", file, file.name);
  try {
    const answer = await fetch(form.action, { method: "POST", body, headers: { "HX-Request": "true" }, signal: running.signal });
    if (answer.redirected || answer.headers.get("HX-Redirect")) { location.reload(); return false; }
    const text = await answer.text();
    if (answer.ok) put(lines, text);
    else if (answer.status === 401) lines.append(line("You are signed out. Sign in in another tab, then send the rest again."));
    else lines.append(line(`${file.name}: ${plain(text) || "it could not be taken in."}`));
    if (answer.status === 422 || (answer.ok && !text.includes("data-job"))) refused++;
    listen();
    return answer.ok || answer.status === 422;
  } catch (err) {
    if (err.name !== "AbortError") lines.append(line("The connection was lost. What is listed above arrived; send the rest again when it is back."));
    return false;
  }
}

function put(list, html) {
  const seen = list.children.length;
  list.insertAdjacentHTML("beforeend", html);
  for (const li of [...list.children].slice(seen)) htmx.process(li);
}

// --- how far they are ---------------------------------------------------------

let live = null, asking = 0;
const changed = new Set();

// The line is open while something on the page is at work. What happened before it
// was open, or while it was lost, is asked for when it says hello.
function listen() {
  if (live || working().size === 0) return;
  live = new EventSource(form.dataset.live);
  live.addEventListener("hello", () => { for (const job of working()) ask(job); });
  live.addEventListener("job", (event) => ask(event.data));
}

function ask(job) {
  changed.add(job);
  asking ||= setTimeout(fetchLines, 200);
}

async function fetchLines() {
  asking = 0;
  const open = working(), jobs = [...changed].filter((job) => open.has(job)).slice(0, 100);
  for (const job of jobs) changed.delete(job);
  if (jobs.length === 0) return settle();
  const answer = await fetch(`${form.dataset.linesAt}?${jobs.map((job) => `job=${job}`).join("&")}`, { headers: { "HX-Request": "true" } }).catch(() => null);
  if (!answer?.ok) { for (const job of jobs) changed.add(job); setTimeout(fetchLines, 2000); return; }
  const page = new DOMParser().parseFromString(`<ul>${await answer.text()}</ul>`, "text/html");
  for (const job of jobs) {
    const fresh = [...page.querySelectorAll(`[data-job="${job}"]`)];
    for (const old of document.querySelectorAll(`[data-lines] [data-job="${job}"]`)) {
      const twins = fresh.map((li) => li.cloneNode(true));
      old.replaceWith(...twins);
      for (const li of twins) htmx.process(li);
    }
    if (fresh.some((li) => li.classList.contains("failed"))) refused++;
  }
  settle();
}

function settle() {
  say();
  if (working().size === 0 && rest.length === 0 && live) { live.close(); live = null; }
}

function plain(html) {
  return new DOMParser().parseFromString(html, "text/html").body.textContent.trim().replace(/\s+/g, " ").slice(0, 200);
}

function line(text) {
  const li = document.createElement("li");
  li.className = "failed";
  li.textContent = `✕ ${text}`;
  return li;
}

stop.addEventListener("click", () => { running?.abort(); running = null; });
again.addEventListener("click", run);
addEventListener("beforeunload", (event) => { if (running) event.preventDefault(); });
addEventListener("pagehide", () => live?.close());
listen();
