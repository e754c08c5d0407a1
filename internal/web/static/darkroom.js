// A dark room: pages that stand before a class turn dark, on this machine, until somebody
// turns them back.

const kept = "zesty-dark-room", page = document.documentElement;

function turn(dark) {
  page.toggleAttribute("data-dark", dark);
  for (const button of document.querySelectorAll("[data-darkroom]")) {
    button.textContent = dark ? "Light room" : "Dark room";
  }
}

turn(localStorage.getItem(kept) === "yes");
document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-darkroom]")) return;
  const dark = !page.hasAttribute("data-dark");
  localStorage.setItem(kept, dark ? "yes" : "no");
  turn(dark);
});
