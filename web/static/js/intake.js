"use strict";
// Keeps the last answer of an intake when the page is left before it was sent: what
// was given a moment ago counts as well. Saving and taking back send the form anyway.
(() => {
  const form = document.querySelector("form.intake[data-keep]");
  let changed = false, sent = false;
  form.addEventListener("change", () => { changed = true; });
  form.addEventListener("submit", () => { sent = true; });
  addEventListener("pagehide", () => {
    if (changed && !sent) navigator.sendBeacon(form.dataset.keep, new URLSearchParams(new FormData(form)));
  });
})();
