// The banner that every page has: one line, with a link where there is a way on.

const banner = document.getElementById("banner");

export function say(message, link) {
  banner.textContent = message + " ";
  if (link) {
    const a = document.createElement("a");
    Object.assign(a, { href: link.href, textContent: link.words, target: "_blank", rel: "noopener" });
    banner.append(a);
  }
  banner.hidden = false;
}

export function hush() { banner.hidden = true; }
