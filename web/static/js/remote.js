"use strict";
// A remote control: asks the page that teaches, and shows where it stands.
(() => {
  const lesson = JSON.parse(document.getElementById("lesson").textContent), line = document.getElementById("r-state");
  for (const b of document.querySelectorAll("[data-do]")) b.onclick = async () => {
    try { const a = await fetch(`/plans/${lesson.plan}/order`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ do: b.dataset.do }) }); if (!a.ok) throw new Error(); } catch { line.textContent = "That did not reach the lesson."; }
  };
  new EventSource(`/plans/${lesson.plan}/follow`).addEventListener("state", (e) => {
    const s = JSON.parse(e.data), b = lesson.beats[s.beat], it = b && lesson.items[b.item];
    line.textContent = (it ? it.name + (b.side ? ", " + b.side : "") : "") + (s.running ? "" : ", paused");
  });
})();
