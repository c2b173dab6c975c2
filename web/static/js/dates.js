"use strict";
// A native field for a day or a time is written the way of the browser; beside it stands the
// day as the studio writes it, and the time where the browser counts to twelve.
(() => {
  const twelve = new Intl.DateTimeFormat(undefined, { hour: "numeric" }).resolvedOptions().hour12;
  const fields = "input[type=date]" + (twelve ? ", input[type=time]" : "");
  const day = (value) => {
    const d = value ? new Date(value + "T12:00") : null;
    const days = d ? Math.round((d - new Date(new Date().setHours(12, 0, 0, 0))) / 864e5) : NaN;
    return { 0: "today", 1: "tomorrow" }[days] || (d && !isNaN(d) ? d.toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" }).replace(",", "") : "");
  };
  const put = (field) => {
    let words = field.nextElementSibling;
    if (!words?.classList.contains("date-words")) { words = document.createElement("span"); words.className = "date-words"; words.setAttribute("aria-hidden", "true"); field.after(words); }
    words.textContent = field.type === "time" ? field.value : day(field.value);
  };
  const all = () => document.querySelectorAll("main :is(" + fields + ")").forEach(put);
  for (const what of ["input", "change"]) document.addEventListener(what, (e) => { if (e.target.matches(fields)) put(e.target); });
  document.addEventListener("htmx:after:swap", all);
  all();
})();
