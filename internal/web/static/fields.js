// A message about one field stands at that field, where the eyes and the
// cursor go; what was typed stays.

document.addEventListener("htmx:beforeSwap", (event) => {
  const { xhr, elt } = event.detail;
  const form = elt.closest("form");
  form?.querySelectorAll("[data-told]").forEach(forget);
  const field = fieldOf(form, xhr.getResponseHeader("Zesty-Field"));
  if (!field) return;
  event.detail.shouldSwap = false;
  const words = new DOMParser().parseFromString(xhr.responseText, "text/html").body.textContent.trim();
  field.dataset.told = "";
  field.setAttribute("aria-invalid", "true");
  field.setAttribute("aria-errormessage", "told");
  document.getElementById("told")?.remove();
  const p = Object.assign(document.createElement("p"), { id: "told", className: "problem", textContent: words });
  p.setAttribute("role", "alert");
  field.after(p);
  for (let fold = field.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
  field.focus();
});

// fieldOf returns the form's field of a name that can be typed in; of several, the first.
function fieldOf(form, name) {
  const found = name && form?.elements[name];
  const field = found instanceof RadioNodeList ? found[0] : found;
  return field && field.type !== "hidden" ? field : null;
}

function forget(field) {
  field.removeAttribute("data-told");
  field.removeAttribute("aria-invalid");
  field.removeAttribute("aria-errormessage");
  document.getElementById("told")?.remove();
}
