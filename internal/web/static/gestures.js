// The gesture timer: so many boxes, so many seconds each, with a soft sound.

const clock = document.getElementById("clock"), words = document.getElementById("say"), part = document.getElementById("part");
const start = document.getElementById("start"), sound = document.getElementById("sound");
let timer = 0, box = 0, ends = 0, each = 30, boxes = 6, audio = null;

function beep(pitch) {
  if (!sound.checked) return;
  audio ??= new AudioContext();
  const tone = audio.createOscillator(), level = audio.createGain();
  tone.frequency.value = pitch;
  level.gain.setValueAtTime(0.15, audio.currentTime);
  level.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.4);
  tone.connect(level).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.4);
}

function next() {
  box++;
  if (box > boxes) {
    stop("Done. Choose one to enlarge.");
    beep(440);
    return;
  }
  ends = performance.now() + each * 1000;
  words.textContent = `Box ${box} of ${boxes}`;
  beep(660);
}

function tick() {
  const left = (ends - performance.now()) / 1000;
  if (left <= 0) next();
  if (!timer) return;
  const now = Math.max(0, (ends - performance.now()) / 1000);
  clock.textContent = Math.ceil(now);
  part.value = 1 - now / each;
}

function stop(say) {
  clearInterval(timer);
  timer = 0;
  part.value = 0;
  words.textContent = say;
  start.textContent = "Start";
}

start.addEventListener("click", () => {
  if (timer) return stop("Stopped.");
  each = Number(document.querySelector("[name=seconds]:checked").value);
  boxes = Math.max(1, Math.min(24, Number(document.getElementById("boxes").value) || 6));
  box = 0;
  start.textContent = "Stop";
  timer = setInterval(tick, 100);
  next();
});

addEventListener("keydown", (event) => {
  if (event.key === " " && !event.target.closest("button, input")) { start.click(); event.preventDefault(); }
});
