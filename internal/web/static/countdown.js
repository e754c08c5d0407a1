// Times that run: every .countdown shows what is left until its moment, and says when it is over.

function show() {
  for (const time of document.querySelectorAll(".countdown[data-until]")) {
    const left = Math.round((Date.parse(time.dataset.until) - Date.now()) / 1000);
    const words = left > 0 ? `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}` : "Time is up";
    if (time.textContent !== words) time.textContent = words;
    time.classList.toggle("over", left <= 0);
  }
}

show();
setInterval(show, 500);
