// Photos go to the server one by one: each shows what became of it, a lost
// connection loses none that arrived, and the rest can be sent again.

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
  shown.hidden = lines.children.length === 0;
  say();
}

function say() {
  bar.max = all;
  bar.value = all - rest.length;
  words.textContent = rest.length === 0 ? `${all - refused} of ${all} taken in${refused ? `, ${refused} not` : ""}` : `Taking in ${Math.min(all, all - rest.length + 1)} of ${all}`;
}

// send returns false where the photo did not get there and stays in the queue.
async function send(file) {
  const body = new FormData();
  body.append("student", form.elements.student?.value ?? "");
  body.append("photo", file, file.name);
  try {
    const answer = await fetch(form.action, { method: "POST", body, headers: { "HX-Request": "true" }, signal: running.signal });
    if (answer.redirected || answer.headers.get("HX-Redirect")) { location.reload(); return false; }
    const text = await answer.text();
    if (answer.ok) lines.insertAdjacentHTML("beforeend", text);
    else if (answer.status === 401) lines.append(line("You are signed out. Sign in in another tab, then send the rest again."));
    else lines.append(line(`${file.name}: ${plain(text) || "it could not be taken in."}`));
    if (answer.status === 422) refused++;
    return answer.ok || answer.status === 422;
  } catch (err) {
    if (err.name !== "AbortError") lines.append(line("The connection was lost. What is listed above arrived; send the rest again when it is back."));
    return false;
  }
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
