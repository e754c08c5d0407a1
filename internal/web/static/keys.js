// The keys of every page: / searches, ? shows what keys there are; words that
// explain themselves are hushed by Escape.

const keys = document.getElementById("keys");
const show = () => { if (keys && !keys.open) keys.showModal(); };
document.getElementById("show-keys")?.addEventListener("click", show);

addEventListener("keydown", (event) => {
  if (event.key === "Escape" && document.activeElement?.classList.contains("term")) return document.activeElement.blur();
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest?.("input, select, textarea, dialog")) return;
  if (event.key === "?") show();
  const find = document.getElementById("find");
  if (event.key === "/" && find) {
    find.focus();
    find.select();
    event.preventDefault();
  }
});
