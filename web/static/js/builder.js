"use strict";
// The plan builder by mouse and keys: rows are dragged by their number, and every
// button that carries a letter can be pressed by it. All of it works without
// scripts too, by the buttons.
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
      return;
    }
    const button = document.querySelector(`#builder [data-key="${CSS.escape(e.key)}"]`);
    if (button && !e.altKey && !button.disabled) { e.preventDefault(); button.click(); }
  });
})();
