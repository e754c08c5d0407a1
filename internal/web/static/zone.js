// Offers the places whose time a school may keep, and writes the browser's own
// where nobody has written one.
for (const field of document.querySelectorAll("[data-zones]")) {
  field.list.append(...Intl.supportedValuesOf("timeZone").map((zone) => new Option(zone, zone)));
  if (!field.value && "zonesOwn" in field.dataset) field.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "";
}
