"use strict";
// Counted tests: half a minute counts down while each tap counts one more.
(() => {
  for (const button of document.querySelectorAll("[data-count]")) {
    const field = document.getElementsByName(button.dataset.count)[0];
    const told = () => field.dispatchEvent(new Event("change", { bubbles: true }));
    const rest = button.nextElementSibling, seconds = Number(button.dataset.seconds);
    let until = 0, tick = 0;
    const show = () => {
      const left = Math.max(0, (until - performance.now()) / 1000);
      rest.textContent = left > 0 ? Math.ceil(left) + " s left" : "time is up";
      if (left > 0) return;
      clearInterval(tick); tick = 0; button.textContent = "Start"; button.disabled = true; told();
      setTimeout(() => { button.disabled = false; }, 2000); // a late tap counts for nothing
    };
    button.addEventListener("click", () => {
      if (tick) { field.value = Number(field.value) + 1; told(); return; }
      field.value = 0; told(); until = performance.now() + 1000 * seconds; button.textContent = "One more"; tick = setInterval(show, 100); show();
    });
  }
})();
// A stopwatch beside each timed measure: start, stop, and the seconds are in the
// field, where they can still be changed.
(() => {
  for (const button of document.querySelectorAll("[data-watch]")) {
    const field = document.getElementsByName(button.dataset.watch)[0];
    let since = 0, tick = 0;
    const show = () => { field.value = ((performance.now() - since) / 1000).toFixed(1); };
    button.addEventListener("click", () => {
      if (tick) { clearInterval(tick); tick = 0; show(); button.textContent = "Start"; field.dispatchEvent(new Event("change", { bubbles: true })); return; }
      since = performance.now(); tick = setInterval(show, 100); button.textContent = "Stop";
    });
  }
})();
