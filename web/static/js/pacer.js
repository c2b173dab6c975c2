"use strict";
// Draws the pacer: one tongue for every hold, repetition or breath of a set, the one at
// hand filling up with a tick a second. Shared by the lesson and the client's screen.
function drawPacer(svg, b, spent) {
  const n = b.kind === "work" ? b.of : 1, gap = 10;
  const w = (994 - gap * (n - 1)) / n;
  let html = "";
  for (let i = 0; i < n; i++) {
    const x = i * (w + gap), r = Math.min(33, w / 2);
    const d = `M${x + 2} 2H${x + w - r}A${r} 31 0 0 1 ${x + w - r} 64H${x + 2}Z`;
    const at = b.kind === "work" ? b.n - 1 : 0;
    if (i < at) html += `<path class="p-done" d="${d}"/>`;
    else if (i > at) html += `<path class="p-todo" d="${d}"/>`;
    else {
      const f = Math.min(1, b.seconds > 0 ? spent / b.seconds : 1), fx = (w - 4) * f;
      html += `<path class="p-todo" d="${d}"/>`;
      if (fx > 1) html += `<path class="p-now" d="M${x + 2} 3H${x + 2 + Math.min(fx, w - r - 2)}${fx > w - r ? `A${r} 30 0 0 1 ${x + w - r} 63` : "V63"}H${x + 2}Z"/>`;
      if (b.seconds <= 30 && w > 60) for (let s = 1; s < b.seconds; s++) html += `<path class="p-tick" d="M${x + w * s / b.seconds} 50V63"/>`;
      html += `<path class="p-frame" d="${d}"/>`;
    }
  }
  svg.innerHTML = html;
}

// breathAt says which way the breath goes at a moment of a repetition.
function breathAt(steps, seconds) {
  let t = 0;
  for (const s of steps) {
    t += s.seconds;
    if (seconds < t) return s.breath;
  }
  return steps.length ? steps[steps.length - 1].breath : "free";
}

// mirrors says whether the picture shows the other side than the one at work.
const mirrors = (it, side) => Boolean(side && it.shown && side !== it.shown);

// countOf says what stands in the giant count at a moment of a beat.
function countOf(b, it, spent) {
  const left = Math.max(0, b.seconds - spent);
  if (b.kind !== "work") return { count: Math.ceil(left), of: "seconds", unit: b.label };
  if (b.unit === "holds") return { count: Math.ceil(left), of: "of " + b.seconds, unit: "seconds, keep breathing" };
  if (b.unit === "seconds") return { count: Math.ceil(left), of: "seconds", unit: "alternating sides" };
  const way = b.unit === "breaths" ? (spent < b.seconds / 2 ? "in" : "out") : breathAt(it.steps, spent);
  return { count: b.n, of: "of " + b.of + " " + b.unit + (b.label ? ", " + b.label : ""), unit: way === "free" ? "easy breath" : "breathe " + way };
}

// Films: the stills of a movement, fetched once for each exercise and theme.
function filmReel(plan, ready) {
  const films = {};
  const reduce = () => matchMedia("(prefers-reduced-motion: reduce)").matches;
  return {
    of(i, id, theme) { const f = films[theme + id + i]; return f && f.ready ? f.stills : null; },
    async fetch(i, id, theme) {
      const key = theme + id + i;
      if (films[key] || reduce()) return;
      films[key] = { ready: false };
      try {
        const answer = await fetch(`/plans/${plan}/film/${i + 1}?theme=${theme}`);
        const stills = await answer.json();
        await Promise.all(stills.map((s) => { const im = new Image(); im.src = s.url; return im.decode(); }));
        films[key] = { ready: stills.length > 1, stills };
        ready();
      } catch { delete films[key]; /* no network: the two pictures stay */ }
    },
  };
}
function stillAt(film, b, spent) {
  const length = film[film.length - 1].at;
  const t = b.seconds > 0 ? (spent / b.seconds) * length : 0;
  let i = film.findIndex((s) => s.at > t + 1e-6);
  if (i < 0) i = film.length;
  return film[Math.max(0, i - 1)].url;
}
