"use strict";
// Lessons and classes are dragged from day to day; the arrows beside each do the same.
(() => {
  const form = document.getElementById("cal-move");
  for (const day of document.querySelectorAll(".cal-day")) {
    Sortable.create(day, {
      group: "days", draggable: ".may-move", animation: 0, sort: false, filter: "button", preventOnFilter: false,
      onEnd: (e) => {
        if (e.from === e.to) return;
        form.elements.what.value = e.item.dataset.what; form.elements.id.value = e.item.dataset.id; form.elements.on.value = e.to.dataset.day;
        form.requestSubmit();
      },
    });
  }
})();
