"use strict";
// Runs a lesson: the count, the cue, the side, what is next. Where it stands and
// every mark are kept in this browser at each step, so that a closed lid or a
// lost connection loses nothing.
(() => {
  const root = document.getElementById("teach");
  const $ = (id) => document.getElementById(id);
  const lesson = JSON.parse($("lesson").textContent);
  const { beats, total } = beatsOf(lesson);
  const key = "restbend.marks." + lesson.plan;
  let state = { beat: 0, spent: 0, ended: {}, swap: false };
  try { state = { ...state, ...JSON.parse(localStorage.getItem(key)) }; } catch { /* nothing kept */ }
  state.beat = Math.min(Math.max(0, state.beat | 0), beats.length - 1);
  let running = false, last = 0, shown = "";

  const save = () => { try { localStorage.setItem(key, JSON.stringify(state)); } catch { /* private window: marks last as long as the page */ } };
  const clock = (s) => { s = Math.max(0, Math.round(s)); return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0"); };
  const beat = () => beats[state.beat];
  const item = () => lesson.items[beat().item];
  // Swapping sides turns the order of left and right for the exercise at hand.
  const sideOf = (b) => !b.side ? "" : state.swap === b.item ? (b.side === "left" ? "right" : "left") : b.side;

  function show() {
    const b = beat(), it = item(), side = sideOf(b);
    const left = b.seconds - state.spent;
    $("t-left").textContent = clock(total - b.at - state.spent);
    const holding = b.kind === "work" && b.unit === "holds";
    let count, of, unit;
    if (b.kind !== "work") { count = Math.ceil(left); of = "seconds"; unit = b.label; }
    else if (holding) { count = Math.ceil(left); of = "of " + b.seconds; unit = "seconds, keep breathing"; }
    else if (b.unit === "seconds") { count = Math.ceil(left); of = "seconds"; unit = "sides in turn"; }
    else {
      count = b.n; of = "of " + b.of + " " + b.unit;
      const way = b.unit === "breaths" ? (state.spent < b.seconds / 2 ? "in" : "out") : breathAt(it.steps, state.spent);
      unit = way === "free" ? "easy breath" : "breathe " + way;
    }
    $("t-count").textContent = count; $("t-of").textContent = of; $("t-unit").textContent = unit;
    pacer(b, it);
    for (const now of document.querySelectorAll(".t-ribbon .ribbon-now")) {
      const box = now.ownerSVGElement.viewBox.baseVal;
      now.setAttribute("x", 18 + (box.width - 38) * (b.at + state.spent) / total - 3);
    }
    if (filming && b.kind === "work") roll(b);
    const stamp = [state.beat, state.swap, root.classList.contains("is-dark"), b.kind === "work" && state.spent < b.seconds / 2].join();
    if (stamp === shown) return;
    shown = stamp;
    $("t-name").textContent = it.name;
    $("t-place").textContent = lesson.client + ", " + (b.item + 1) + " of " + lesson.items.length + ", " + it.position;
    $("t-side").hidden = !side; $("t-side").className = "t-side is-" + side;
    $("t-side").textContent = side ? side + " · " + it.means : "";
    const cues = [...it.cues, it.breathCue];
    $("t-cue").textContent = b.kind === "change" && b.label === "get ready" ? it.setUp : b.kind === "change" ? "Come up slowly, by the side." : b.kind === "rest" ? "Let go. Easy breath." : cues[((b.n || 1) - 1 + b.set) % cues.length];
    $("t-cue").classList.toggle("is-long", b.kind === "change");
    $("t-adapt").textContent = it.adapt.join("; ");
    $("t-stop").textContent = it.stop.length ? "Stop: " + it.stop.join("; ") : "";
    $("t-set").textContent = b.sets > 1 ? "set " + (b.set + 1) + " of " + b.sets : "";
    $("t-dose").textContent = it.dose;
    const later = lesson.items[b.item + 1];
    const other = beats.slice(state.beat + 1).find((x) => x.item === b.item && x.kind === "work" && x.side !== b.side);
    $("t-next").textContent = other ? sideOf(other) + " side, " + it.means : later ? later.name + ", " + later.position : "the end; wrap up";
    const set = it.figures[root.classList.contains("is-dark") ? "Dark" : "Light"];
    const reduce = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const moving = b.kind === "work" && !holding && !reduce && it.kind !== "hold_breaths";
    if (moving) fetchFilm(b.item);
    fetchFilm(b.item + 1);
    filming = moving ? filmOf(b.item) : null;
    const pose = b.kind === "change" || b.kind === "rest" || (moving && state.spent >= b.seconds / 2) ? "start" : "show";
    if (!filming) picture(set[pose] || "");
    $("t-figure").alt = it.name + ", " + it.position;
    $("k-side").disabled = !b.side || it.uneven;
    $("k-rest").href = "/plans/" + lesson.plan + "?rest=1&item=" + (b.item + 1);
  }

  // Films: the stills of a movement, fetched once for each exercise and theme.
  // Until they are there, and with reduced motion, two pictures change over.
  const films = {};
  let filming = null;
  const theme = () => root.classList.contains("is-dark") ? "dark" : "light";
  const filmOf = (i) => { const f = films[theme() + i]; return f && f.ready ? f.stills : null; };
  async function fetchFilm(i) {
    const key = theme() + i;
    if (films[key] || !lesson.items[i] || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    films[key] = { ready: false };
    try {
      const answer = await fetch(`/plans/${lesson.plan}/film/${i + 1}?theme=${theme()}`);
      const stills = await answer.json();
      await Promise.all(stills.map((s) => { const im = new Image(); im.src = s.url; return im.decode(); }));
      films[key] = { ready: stills.length > 1, stills };
      shown = ""; show();
    } catch { /* no network: the two pictures stay */ }
  }
  function roll(b) {
    const length = filming[filming.length - 1].at;
    const t = b.seconds > 0 ? (state.spent / b.seconds) * length : 0;
    let i = filming.findIndex((s) => s.at > t + 1e-6);
    if (i < 0) i = filming.length;
    picture(filming[Math.max(0, i - 1)].url);
  }
  function picture(url) { if ($("t-figure").getAttribute("src") !== url) $("t-figure").src = url; }

  // pacer draws one tongue for every hold, repetition or breath of the set, the
  // one at hand filling up with a tick a second.
  function pacer(b, it) {
    const svg = $("t-pacer");
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
        const f = Math.min(1, state.spent / b.seconds), fx = (w - 4) * f;
        html += `<path class="p-todo" d="${d}"/>`;
        if (fx > 1) html += `<path class="p-now" d="M${x + 2} 3H${x + 2 + Math.min(fx, w - r - 2)}${fx > w - r ? `A${r} 30 0 0 1 ${x + w - r} 63` : "V63"}H${x + 2}Z"/>`;
        if (b.seconds <= 30 && w > 60) for (let s = 1; s < b.seconds; s++) html += `<path class="p-tick" d="M${x + w * s / b.seconds} 50V63"/>`;
        html += `<path class="p-frame" d="${d}"/>`;
      }
    }
    svg.innerHTML = html;
  }

  function go(n) {
    if (n >= beats.length) { finish(); return; }
    state.beat = Math.max(0, n); state.spent = 0; save(); show();
  }
  function finish() { pause(); state.beat = beats.length - 1; state.spent = beat().seconds; save(); location.href = $("k-done").getAttribute("href"); }
  function tick(now) {
    if (!running) return;
    state.spent += Math.min(1, (now - last) / 1000); last = now;
    while (state.spent >= beat().seconds) {
      const over = state.spent - beat().seconds;
      if (state.beat + 1 >= beats.length) { finish(); return; }
      state.beat++; state.spent = over; save();
    }
    show();
    requestAnimationFrame(tick);
  }
  function start() { running = true; last = performance.now(); label(); requestAnimationFrame(tick); wake(); }
  function pause() { running = false; label(); save(); }
  const label = () => { $("k-pause").firstChild.textContent = (running ? "Pause" : state.beat + state.spent > 0 ? "Go on" : "Start") + " "; };
  // The screen stays awake while a lesson runs, where the browser can do that.
  async function wake() { try { if (navigator.wakeLock) await navigator.wakeLock.request("screen"); } catch { /* allowed to say no */ } }

  const firstOf = (i) => beats.findIndex((b) => b.item === i);
  const next = () => { const n = firstOf(beat().item + 1); if (n < 0) finish(); else go(n); };
  const back = () => { const b = beat(); go(state.beat > firstOf(b.item) || b.item === 0 ? firstOf(b.item) : firstOf(b.item - 1)); };
  function mark(kind, words) {
    const b = beat(), side = sideOf(b);
    state.ended[String(b.item + 1) + (side ? "-" + side : "")] = kind;
    $("t-mark").textContent = words + ": " + item().name + (side ? ", " + side : "") + ". Noted; the set ends here.";
    // The set ends at the mark: on to the rest, the other side or what follows.
    let n = state.beat + 1;
    while (n < beats.length && beats[n].item === b.item && beats[n].side === b.side && beats[n].kind === "work") n++;
    if (kind === "pain") { while (n < beats.length && beats[n].item === b.item && beats[n].side === b.side) n++; pause(); }
    go(n);
  }
  function swapSide() {
    const b = beat();
    if (!b.side || item().uneven) return;
    state.swap = state.swap === b.item ? false : b.item;
    shown = ""; save(); show();
  }
  const toggle = () => { running ? pause() : start(); };
  function dark() {
    const on = root.classList.toggle("is-dark");
    document.body.classList.toggle("is-dark", on);
    $("k-dark").setAttribute("aria-pressed", on);
    try { localStorage.setItem("restbend.dark", on ? "1" : ""); } catch { /* not kept */ }
    show();
  }
  $("k-pause").onclick = toggle; $("k-next").onclick = next; $("k-back").onclick = back; $("k-side").onclick = swapSide;
  $("k-form").onclick = () => mark("form", "Form broke"); $("k-pain").onclick = () => mark("pain", "Pain"); $("k-dark").onclick = dark;
  const keys = { " ": toggle, ArrowRight: next, ArrowLeft: back, s: swapSide, f: () => mark("form", "Form broke"), p: () => mark("pain", "Pain"), d: dark };
  addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const act = keys[e.key] || keys[e.key.toLowerCase()];
    if (!act || (e.key === " " && e.target.closest("a"))) return;
    e.preventDefault(); act();
  });
  addEventListener("pagehide", save);
  let keepDark = "";
  try { keepDark = localStorage.getItem("restbend.dark"); } catch { /* light */ }
  if (keepDark) dark(); else show();
  label();
})();
