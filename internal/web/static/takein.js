// Pictures by dropping and pasting: the file lands in the form's own field.

const zone = document.querySelector(".dropzone");
const input = zone?.querySelector("input[type=file]");

function take(files) {
  const picture = [...files].find((f) => f.type.startsWith("image/") || /\.(heic|heif|tiff?|pdf)$/i.test(f.name));
  if (!picture) return false;
  const held = new DataTransfer();
  held.items.add(picture);
  input.files = held.files;
  input.dispatchEvent(new Event("change", { bubbles: true }));
  input.focus();
  return true;
}

if (input) {
  for (const kind of ["dragenter", "dragover"]) addEventListener(kind, (event) => { event.preventDefault(); zone.classList.add("over"); });
  addEventListener("dragleave", (event) => { if (!event.relatedTarget) zone.classList.remove("over"); });
  addEventListener("drop", (event) => { event.preventDefault(); zone.classList.remove("over"); take(event.dataTransfer.files); });
  addEventListener("paste", (event) => { if (take(event.clipboardData.files)) event.preventDefault(); });
}
