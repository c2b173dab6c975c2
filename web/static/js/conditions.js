"use strict";
// Shows the rarer conditions of an intake as somebody types what people call them. What is
// ticked stays in sight; without a script all are listed.
(() => {
  const box = document.querySelector("[data-find-condition]");
  if (!box) return;
  const all = [...document.querySelectorAll("#other-conditions [data-condition]")];
  const said = document.querySelector("[data-found-conditions]");
  const ticked = (c) => c.querySelector("input[name=conditions]").checked;
  function show() {
    const words = box.value.toLowerCase().split(/[^\p{L}\p{N}]+/u).filter(Boolean);
    let found = 0;
    for (const c of all) {
      const called = c.dataset.condition;
      const hit = words.length > 0 && words.every((w) => called.split(/[^\p{L}\p{N}]+/u).some((x) => x.startsWith(w)));
      if (hit) found++;
      c.hidden = !hit && !ticked(c);
    }
    said.textContent = !words.length ? all.length + " more, by typing." : found ? "" : "Nothing is called so here: write it below, one a line.";
  }
  box.addEventListener("input", show);
  // Enter looks and does not send the form.
  box.addEventListener("keydown", (e) => { if (e.key === "Enter") e.preventDefault(); });
  document.getElementById("other-conditions").addEventListener("change", show);
  show();
})();
