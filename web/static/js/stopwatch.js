"use strict";
// A stopwatch beside each timed measure: start, stop, and the seconds are in the
// field, where they can still be changed.
(() => {
  for (const button of document.querySelectorAll("[data-watch]")) {
    const field = document.getElementsByName(button.dataset.watch)[0];
    let since = 0, tick = 0;
    const show = () => { field.value = ((performance.now() - since) / 1000).toFixed(1); };
    button.addEventListener("click", () => {
      if (tick) { clearInterval(tick); tick = 0; show(); button.textContent = "Start"; return; }
      since = performance.now(); tick = setInterval(show, 100); button.textContent = "Stop";
    });
  }
})();
