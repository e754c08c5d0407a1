// Looks through the tablet's camera, says what to do, and takes the photo when all corners
// and the sharpness are right. What it judges by are the core's own rules, compiled for the
// browser and fetched only when somebody opens the camera.

const wide = 640; // pixels of a look
const looksToTake = 3; // as many in a row must be right
const every = 40; // milliseconds between looks, at least
const corner = 0.4, forgotten = 8000; // the part of each side in which a tag lies; milliseconds for which one counts as seen

async function rules() {
  if (globalThis.zestyLook) return;
  await new Promise((done, failed) => {
    const script = document.createElement("script");
    script.src = new URL("vendor/go/wasm_exec.js", import.meta.url).href;
    script.onload = done;
    script.onerror = failed;
    document.head.append(script);
  });
  const go = new globalThis.Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch(new URL("viewfinder.wasm", import.meta.url)), go.importObject);
  go.run(instance);
}

// Opens the camera in a panel; plan is the sheet's, as JSON. It returns when a photo was
// taken, as a file with what is to be said of a ruled grid on it, where one is asked for; or
// with null where somebody closed it.
export async function viewfinder(panel, plan, grid) {
  const video = panel.querySelector("video"), say = panel.querySelector("[data-say]"), frame = panel.querySelector("[data-frame]");
  const stream = await navigator.mediaDevices.getUserMedia({ audio: false, video: { facingMode: "environment", width: { ideal: 4096 }, height: { ideal: 3072 } } });
  const sound = new AudioContext();
  panel.hidden = false;
  panel.querySelector("[data-take]").focus();
  video.srcObject = stream;
  try {
    await Promise.all([video.play(), rules()]);
    const taken = await aim(panel, video, say, frame, plan, grid);
    taken ? ring(sound) : sound.close();
    return taken;
  } finally {
    for (const track of stream.getTracks()) track.stop();
    video.srcObject = null;
    panel.hidden = true;
  }
}

// A short tone: the photo is taken.
function ring(sound) {
  const tone = sound.createOscillator(), loud = sound.createGain();
  tone.frequency.value = 880;
  loud.gain.setValueAtTime(0.2, sound.currentTime);
  loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.25);
  tone.connect(loud).connect(sound.destination);
  tone.start();
  tone.stop(sound.currentTime + 0.25);
  tone.onended = () => sound.close();
}

async function aim(panel, video, say, frame, plan, grid) {
  const look = document.createElement("canvas"), pen = look.getContext("2d", { willReadFrequently: true });
  const part = document.createElement("canvas"), fine = part.getContext("2d", { willReadFrequently: true });
  const read = [0, 0, 0, 0]; // when each corner's tag was read last
  let closed = false, now = false, right = 0, looks = 0;
  const began = performance.now();
  panel.querySelector("[data-close]").onclick = () => { closed = true; };
  panel.onkeydown = (event) => { if (event.key === "Escape") closed = true; };
  panel.querySelector("[data-take]").onclick = () => { now = true; };
  while (!closed && !now && right < looksToTake) {
    const k = wide / Math.max(video.videoWidth, video.videoHeight);
    look.width = Math.round(video.videoWidth * k);
    look.height = Math.round(video.videoHeight * k);
    pen.drawImage(video, 0, 0, look.width, look.height);
    // One corner after the other is looked at finely, for its tag.
    const pw = Math.round(video.videoWidth * corner), ph = Math.round(video.videoHeight * corner), quarter = looks % 4;
    part.width = Math.min(pw, wide);
    part.height = Math.round((part.width * ph) / pw);
    fine.drawImage(video, quarter % 3 ? video.videoWidth - pw : 0, quarter > 1 ? video.videoHeight - ph : 0, pw, ph, 0, 0, part.width, part.height);
    const tag = globalThis.zestyTag(fine.getImageData(0, 0, part.width, part.height).data, part.width, part.height);
    if (tag >= 0) read[tag] = performance.now();
    const tags = read.map((when) => when > 0 && performance.now() - when < forgotten);
    const settled = looks > 8; // each corner was looked at twice
    const seen = JSON.parse(globalThis.zestyLook(pen.getImageData(0, 0, look.width, look.height).data, look.width, look.height, plan, settled ? tags : [true, true, true, true]));
    right = seen.ready && settled ? right + 1 : 0;
    if (say.textContent !== seen.say) say.textContent = seen.say;
    frame.setAttribute("viewBox", `0 0 ${look.width} ${look.height}`);
    frame.querySelector("polygon").setAttribute("points", (seen.corners ?? []).map(([x, y]) => `${x},${y}`).join(" "));
    panel.dataset.looks = (++looks / ((performance.now() - began) / 1000)).toFixed(1);
    await new Promise((go) => { setTimeout(go, every); });
  }
  if (closed) return null;
  const photo = document.createElement("canvas");
  photo.width = video.videoWidth;
  photo.height = video.videoHeight;
  photo.getContext("2d").drawImage(video, 0, 0);
  const blob = await new Promise((done) => { photo.toBlob(done, "image/jpeg", 0.92); });
  return { file: new File([blob], "drawing.jpg", { type: "image/jpeg" }), ruling: grid ? ruled(photo, plan) : "" };
}

// What is to be said of a ruled grid before anything is drawn.
function ruled(photo, plan) {
  const k = Math.min(1, 1600 / Math.max(photo.width, photo.height)), small = document.createElement("canvas");
  small.width = Math.round(photo.width * k);
  small.height = Math.round(photo.height * k);
  const pen = small.getContext("2d");
  pen.drawImage(photo, 0, 0, small.width, small.height);
  return globalThis.zestyGrid(pen.getImageData(0, 0, small.width, small.height).data, small.width, small.height, plan);
}
