"use strict";
// On a narrow screen long lists are folded, but for what is chosen, wrong or found by a
// search; each opens with a tap. Without scripts all stands open.
(() => {
  const narrow = matchMedia("(max-width: 640px)");
  const fold = () => {
    if (!narrow.matches) return;
    const all = [...document.querySelectorAll("details[data-fold]:not([data-met])")];
    for (const d of all) {
      d.dataset.met = "yes";
      if (d.dataset.fold === "few" && all.length < 4) continue;
      if (!d.querySelector("input:checked, .wrong, .is-chosen, [aria-current]")) d.open = false;
    }
  };
  fold();
  document.addEventListener("htmx:after:swap", fold);
})();
