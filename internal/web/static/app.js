// What every page needs: telling when the connection or the sign-in is gone,
// without losing what was typed.

import { hush, say } from "./banner.js";
import "./fields.js";
import "./keys.js";

// Where the rail scrolls, the step at hand is in view.
const here = document.querySelector(".rail [aria-current]");
if (here) here.parentElement.scrollLeft = here.offsetLeft - here.parentElement.offsetLeft - 40;

document.addEventListener("htmx:sendError", () =>
  say("No connection. What you see stays here; nothing was saved just now. Try again when the connection is back."));

document.addEventListener("htmx:responseError", (event) => {
  const xhr = event.detail.xhr, status = xhr.status;
  if (status === 401) {
    say("You were signed out after a break. What you typed stays here.", { href: "/signin", words: "Sign in in a new tab, then try again." });
  } else if (status === 409) {
    say("Somebody changed this meanwhile. Open the page again to see the change.");
  } else if (status === 507) {
    say("The disk of this program's machine is full: this was not saved. Tell whoever looks after it, then try again.");
  } else if (status === 404) {
    say("This is not there any more. Open the page again.");
  } else if (status === 503 && xhr.getResponseHeader("Zesty-Unsure")) {
    say("The program's database went away while this was being saved. Look whether it is there before you send it again.");
  } else if (status === 503) {
    say("The program's database is away for a moment. What you did is kept here and sent again by itself.");
    later(event.detail.requestConfig, 1000 * Number(xhr.getResponseHeader("Retry-After") || 3));
  } else {
    say("That did not work. Nothing you saved is lost. Try again in a moment.");
  }
});

// later sends a request again that the server could not take, as it was.
function later(request, wait) {
  const { verb, path, elt, target, formData } = request;
  setTimeout(() => {
    if (elt.isConnected) htmx.ajax(verb, path, { source: elt, target, values: formData });
  }, wait);
}

// A form that stands on the page because the database was away goes by itself.
const form = document.querySelector("form[data-again]");
if (form) setTimeout(() => form.requestSubmit(), 3000);

document.addEventListener("htmx:afterRequest", (event) => { if (event.detail.successful) hush(); });
addEventListener("online", hush);
addEventListener("offline", () => say("No connection. You can go on looking; saving waits until it is back."));

// A menu closes when something else is pressed, or on Escape.
const closeMenus = (but) => document.querySelectorAll("details.menu[open]").forEach((menu) => menu.contains(but) || menu.removeAttribute("open"));
addEventListener("click", (event) => closeMenus(event.target));
addEventListener("keydown", (event) => { if (event.key === "Escape") closeMenus(null); });
