"use strict";
// A native date field is written the way of the browser; beside it stands the day as the
// studio writes it.
(() => {
  const put = (field) => {
    let words = field.nextElementSibling;
    if (!words?.classList.contains("date-words")) { words = document.createElement("span"); words.className = "date-words"; words.setAttribute("aria-hidden", "true"); field.after(words); }
    const d = field.value ? new Date(field.value + "T12:00") : null;
    const days = d ? Math.round((d - new Date(new Date().setHours(12, 0, 0, 0))) / 864e5) : NaN;
    words.textContent = { 0: "today", 1: "tomorrow" }[days] || (d && !isNaN(d) ? d.toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" }).replace(",", "") : "");
  };
  const all = () => document.querySelectorAll("main input[type=date]").forEach(put);
  document.addEventListener("input", (e) => { if (e.target.matches("input[type=date]")) put(e.target); });
  document.addEventListener("change", (e) => { if (e.target.matches("input[type=date]")) put(e.target); });
  document.addEventListener("htmx:after:swap", all);
  all();
})();
