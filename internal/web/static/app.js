// What every page needs: telling when the connection or the sign-in is gone,
// without losing what was typed.

import { hush, say } from "./banner.js";
import "./fields.js";
import "./keys.js";

document.addEventListener("htmx:sendError", () =>
  say("No connection. What you see stays here; nothing was saved just now. Try again when the connection is back."));

document.addEventListener("htmx:responseError", (event) => {
  const status = event.detail.xhr.status;
  if (status === 401) {
    say("You were signed out after a break. What you typed stays here.", { href: "/signin", words: "Sign in in a new tab, then try again." });
  } else if (status === 409) {
    say("Somebody changed this meanwhile. Open the page again to see the change.");
  } else if (status === 507) {
    say("The disk of this program's machine is full: this was not saved. Tell whoever looks after it, then try again.");
  } else if (status === 404) {
    say("This is not there any more. Open the page again.");
  } else {
    say("That did not work. Nothing you saved is lost. Try again in a moment.");
  }
});

document.addEventListener("htmx:afterRequest", (event) => { if (event.detail.successful) hush(); });
addEventListener("online", hush);
addEventListener("offline", () => say("No connection. You can go on looking; saving waits until it is back."));
