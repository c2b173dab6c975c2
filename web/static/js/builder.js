"use strict";
// The plan builder by mouse and keys: rows are dragged by their number, chosen and moved by
// arrows. All of it works without scripts too, by the buttons.
(() => {
  const builder = () => document.getElementById("builder");
  const focusChosen = () => {
    if (document.activeElement === document.body) document.querySelector(".row-item.is-chosen .row-link")?.focus({ preventScroll: true });
  };
  const move = (from, to) => {
    const form = document.getElementById("move");
    if (!form || from === to) return;
    form.querySelector("[name=item]").value = from + 1;
    form.querySelector("[name=to]").value = to + 1;
    form.requestSubmit();
  };
  const prepare = () => {
    const rows = document.querySelector("#builder .rows.can-move");
    if (!rows || rows.dataset.ready) return;
    rows.dataset.ready = "yes";
    Sortable.create(rows, { handle: ".row-number", animation: 0, ghostClass: "is-moving", onEnd: (e) => move(e.oldIndex, e.newIndex) });
  };
  new MutationObserver(() => { prepare(); focusChosen(); }).observe(document.getElementById("main"), { childList: true, subtree: true });
  prepare();

  // Steps taken while the first is under way are counted, and asked for together after it.
  const steps = { more: [5, 5, 120], fewer: [-5, 5, 120], "more-pain": [1, 0, 10], "less-pain": [-1, 0, 10] };
  let asked = 0, owed = [];
  document.addEventListener("click", (e) => {
    const button = e.target.closest("#builder button[name=step]");
    if (!button) return;
    if (Date.now() - asked > 3000) { asked = Date.now(); return; }
    e.preventDefault();
    owed.push(button.value);
  }, true);
  document.addEventListener("htmx:after:swap", () => {
    asked = 0;
    if (!owed.length || !builder()) return;
    let field;
    for (const step of owed.splice(0)) {
      const [by, least, most] = steps[step];
      field = builder().querySelector(`button[value=${step}]`)?.parentElement.querySelector("input");
      if (field) field.value = Math.max(least, Math.min(most, Number(field.value) + by));
    }
    if (field) { asked = Date.now(); field.form.requestSubmit(); }
  });

  const choose = (step) => {
    const rows = [...document.querySelectorAll(".row-link")];
    const at = rows.findIndex((r) => r.getAttribute("aria-current"));
    const to = rows[Math.max(0, Math.min(rows.length - 1, at + step))];
    to?.focus({ preventScroll: true }); to?.click(); // the focus goes along
  };
  document.addEventListener("keydown", (e) => {
    if (!builder() || e.ctrlKey || e.metaKey || e.target.closest("input, select, textarea, summary")) return;
    const rows = [...document.querySelectorAll(".row-link")];
    const at = rows.findIndex((r) => r.getAttribute("aria-current"));
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      const step = e.key === "ArrowDown" ? 1 : -1;
      e.preventDefault();
      if (!e.altKey) return choose(step);
      if (at + step >= 0 && at + step < rows.length) move(at, at + step);
    }
  });
})();
