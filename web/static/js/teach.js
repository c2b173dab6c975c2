"use strict";
// Runs a lesson: the count, the cue, the side, what is next. The timetable comes from the
// server; this page only walks along it. Every mark goes to the browser's own store first
// and to the server until it is acknowledged.
(() => {
  const root = document.getElementById("teach");
  const $ = (id) => document.getElementById(id);
  let lesson = JSON.parse($("lesson").textContent), beats = lesson.beats;
  const plan = lesson.plan, key = "restbend.lesson." + plan;
  // beat and spent: where the lesson stands; elapsed: seconds of the lesson's own clock.
  let state = { beat: 0, spent: 0, elapsed: 0, swap: "", begun: false };
  let running = false, ahead = 0, anchor = 0, shown = "", said = null, filming = null, added = 0;
  const marks = new Map(lesson.marks.map((m) => [m.id, m]));
  const wants = { sound: false, speak: false };

  const clock = (s) => { s = Math.max(0, Math.round(s)); return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0"); };
  const beat = () => beats[state.beat];
  const item = () => lesson.items[beat().item];
  const sideOf = (b) => !b.side ? "" : state.swap === b.id ? (b.side === "left" ? "right" : "left") : b.side;
  const firstOf = (i) => beats.findIndex((b) => b.item === i);
  const save = () => { try { localStorage.setItem(key, JSON.stringify({ ...state, id: beat().id, was: Date.now() })); } catch { /* private window */ } };

  // Where a lesson was left: in this browser, else after the last set that is marked done.
  function restore() {
    let kept = null;
    try { kept = JSON.parse(localStorage.getItem(key)); } catch { /* nothing kept */ }
    const latest = [...marks.values()].reduce((m, x) => Math.max(m, x.clock_s), 0);
    if (kept && kept.elapsed >= latest - 60) {
      state = { ...state, ...kept };
      if (!beats[state.beat] || beats[state.beat].id !== kept.id) { state.beat = Math.max(0, beats.findIndex((b) => b.id === kept.id)); state.spent = 0; }
    } else {
      let at = 0;
      for (const m of marks.values()) {
        if (!["set_done", "form", "pain", "shaking", "soreness", "tingling", "cramp", "skipped"].includes(m.kind)) continue;
        beats.forEach((b, i) => { if (b.id === m.item && (!m.side || !b.side || b.side === m.side) && (!m.set || b.set <= m.set)) at = Math.max(at, i + 1); });
      }
      state.beat = Math.min(at, beats.length - 1); state.elapsed = latest; state.begun = marks.size > 0;
    }
    state.beat = Math.min(Math.max(0, state.beat | 0), beats.length - 1);
  }

  // What today's marks allow of what is left.
  function day() {
    const d = assessMarks(lesson, [...marks.values()]), barred = (i) => d.barred(lesson.items[i]);
    return { ...d, barred, left: lesson.items.filter((_, i) => i > beat().item && barred(i)).length };
  }
  // The first beat from one on that is still for today; past the last where none is.
  function onward(n) {
    const d = day();
    if (d.ended) return beats.length;
    while (n < beats.length && d.barred(beats[n].item)) n++;
    return n;
  }

  function mark(kind, more = {}) {
    const b = beat(), it = item();
    const m = { id: crypto.randomUUID(), item: it.id, variant: it.variant, side: sideOf(b), set: b.set || 0, kind, at: new Date(Date.now() + ahead).toISOString(), clock_s: Math.round(state.elapsed * 10) / 10, ...more };
    for (const k of Object.keys(m)) if (m[k] === "" || m[k] === undefined) delete m[k];
    marks.set(m.id, m);
    Outbox.mark(plan, m);
    return m;
  }
  // say tells what was noted, with an undo for ten seconds.
  function say(words, undo) {
    clearTimeout(said?.timer);
    said = { undo, timer: setTimeout(() => { $("t-said").hidden = true; said = null; }, 10000) };
    $("t-mark").textContent = words; $("t-undo").hidden = !undo; $("t-said").hidden = false;
  }
  function takeBack() {
    if (!said?.undo) return;
    const back = said.undo; clearTimeout(said.timer); said = null; back();
    $("t-said").hidden = true; shown = ""; save(); show();
  }
  const undoOf = (ms, was) => () => { for (const m of ms) mark("corrected", { item: "", variant: "", side: "", set: 0, of: m.id, void: true }); state = { ...state, beat: was.beat, spent: was.spent }; };

  function show() {
    const b = beat(), it = item(), side = sideOf(b), c = countOf(b, it, state.spent);
    $("t-left").textContent = clock(lesson.total - b.at - state.spent + added);
    $("t-count").textContent = c.count; $("t-of").textContent = c.of; $("t-unit").textContent = c.unit;
    drawPacer($("t-pacer"), b, state.spent);
    for (const now of document.querySelectorAll(".t-ribbon .ribbon-now")) {
      const box = now.ownerSVGElement.viewBox.baseVal;
      now.setAttribute("x", 18 + (box.width - 38) * (b.at + Math.min(state.spent, b.seconds)) / lesson.total - 3);
    }
    $("t-figure").classList.toggle("is-mirrored", mirrors(it, side));
    if (filming && b.kind === "work") picture(stillAt(filming, b, state.spent));
    const stamp = [state.beat, state.swap, it.variant, root.classList.contains("is-dark"), b.kind === "work" && state.spent < b.seconds / 2].join();
    if (stamp === shown) return;
    shown = stamp;
    $("t-name").textContent = it.name;
    $("t-place").textContent = lesson.client + ", " + (b.item + 1) + " of " + lesson.items.length + ", " + it.position;
    $("t-side").hidden = !side; $("t-side").className = "t-side is-" + side;
    $("t-side").textContent = side ? side + " · " + it.means : "";
    const cues = [...it.cues, it.breathCue];
    const cue = b.kind === "change" && b.label === "get ready" ? it.setUp : b.kind === "change" ? "Come up slowly, by the side." : b.kind === "rest" ? "Let go. Easy breath." : cues[((b.n || 1) - 1 + b.set - 1) % cues.length];
    if ($("t-cue").textContent !== cue) { $("t-cue").textContent = cue; speak(cue); }
    $("t-cue").classList.toggle("is-long", b.kind === "change");
    $("t-adapt").textContent = it.adapt.join("; ");
    $("t-stop").textContent = it.stop.length ? "Stop: " + it.stop.join("; ") : "";
    $("t-set").textContent = b.sets > 1 ? "set " + b.set + " of " + b.sets : "";
    $("t-dose").textContent = it.dose;
    const later = lesson.items[b.item + 1];
    const other = beats.slice(state.beat + 1).find((x) => x.item === b.item && x.kind === "work" && x.side !== b.side);
    $("t-next").textContent = other ? sideOf(other) + " side, " + it.means : later ? later.name + ", " + later.position : "the end; wrap up";
    const set = it.figures[root.classList.contains("is-dark") ? "Dark" : "Light"];
    const reduce = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const moving = b.kind === "work" && b.unit !== "holds" && !reduce && it.kind !== "hold_breaths";
    const theme = root.classList.contains("is-dark") ? "dark" : "light";
    if (moving) reel.fetch(b.item, it.variant, theme);
    if (later) reel.fetch(b.item + 1, later.variant, theme);
    filming = moving ? reel.of(b.item, it.variant, theme) : null;
    const pose = b.kind === "change" || b.kind === "rest" || (moving && state.spent >= b.seconds / 2) ? "start" : "show";
    if (!filming) picture(set[pose] || "");
    $("t-figure").alt = it.name + ", " + it.position;
    $("k-side").disabled = !b.side || it.uneven;
    if (!$("t-drawer").hidden) drawer();
    stands();
  }
  function picture(url) { if ($("t-figure").getAttribute("src") !== url) $("t-figure").src = url; }
  const reel = filmReel(plan, () => { shown = ""; show(); });

  // Tones, off until they are wanted: begin, the last five seconds, change side, done.
  let audio = null;
  function tone(...notes) {
    if (!wants.sound) return;
    audio ||= new AudioContext();
    notes.forEach((hz, i) => {
      const o = audio.createOscillator(), g = audio.createGain(), t = audio.currentTime + i * 0.16;
      o.frequency.value = hz; o.connect(g).connect(audio.destination);
      g.gain.setValueAtTime(0.0001, t); g.gain.exponentialRampToValueAtTime(0.2, t + 0.02); g.gain.exponentialRampToValueAtTime(0.0001, t + 0.15);
      o.start(t); o.stop(t + 0.16);
    });
  }
  function speak(text) { if (wants.speak && running && "speechSynthesis" in window) { speechSynthesis.cancel(); speechSynthesis.speak(new SpeechSynthesisUtterance(text)); } }

  // The walk along the timetable. Time is taken from one anchor, so that nothing drifts; a
  // gap of more than five seconds is a closed lid, and the lesson waits there.
  const now = () => performance.now() / 1000;
  function walk(seconds) {
    state.spent += seconds; state.elapsed += seconds;
    while (state.spent >= beat().seconds) {
      const b = beat(), over = state.spent - b.seconds;
      if (b.set_ends) mark("set_done", { repetitions: b.of - (item().kind === "hold_breaths" ? 1 : 0), seconds: round(b.seconds), best_hold: b.unit === "holds" ? round(b.seconds) : undefined });
      if (state.beat + 1 >= beats.length) { state.spent = b.seconds; finish(); return; }
      const to = onward(state.beat + 1);
      if (to >= beats.length) { state.spent = b.seconds; finish(); return; }
      state.beat = to; state.spent = over;
      const n = beat();
      if (n.kind === "work" && b.kind !== "work") tone(660); else if (n.label === "change sides") tone(520, 660); else if (n.side !== b.side && n.kind === "work") tone(520); else if (b.set_ends) tone(440);
      save();
    }
    const left = beat().seconds - state.spent;
    if (beat().kind === "work" && beat().seconds >= 10 && left <= 5 && Math.ceil(left) !== Math.ceil(left + seconds)) tone(880);
    show();
  }
  const round = (s) => Math.round(s * 10) / 10;
  function tick() {
    if (!running) return;
    const t = now(), passed = t - anchor;
    anchor = t;
    if (passed > 5) { pause("the screen slept"); return; }
    walk(passed);
    if (running) requestAnimationFrame(tick);
  }
  // Where nothing is drawn (another window in front), the time goes on all the same.
  setInterval(() => { if (running && document.hidden) tick(); }, 1000);
  function start() {
    const d = day();
    if (d.ended) { halt(d.ended); return; }
    const to = onward(state.beat);
    if (to >= beats.length) { finish(); return; }
    if (to !== state.beat) { state.beat = to; state.spent = 0; shown = ""; show(); }
    running = true; anchor = now();
    if (!state.begun) { state.begun = true; mark("begun", { item: "", variant: "", side: "", set: 0 }); } else mark("resumed", { set: 0 });
    label(); requestAnimationFrame(tick); wake(); stands(); speak($("t-cue").textContent);
  }
  function pause(why) {
    if (running) mark("paused", { set: 0, text: why || "" });
    running = false; label(); save(); stands();
  }
  const label = () => { $("k-pause").firstChild.textContent = (running ? "Pause" : state.begun ? "Go on" : "Start") + " "; };
  async function wake() { try { if (navigator.wakeLock) await navigator.wakeLock.request("screen"); } catch { /* allowed to say no */ } }

  function go(n) {
    n = onward(Math.max(0, n));
    if (n >= beats.length) { const d = day(); if (d.ended) halt(d.ended); else finish(); return; }
    state.beat = n; state.spent = 0; save(); show();
  }
  function finish() { if (running) { running = false; label(); } tone(660, 520, 440); save(); stands(); leave(); }
  async function leave() { keepNote(); await Promise.race([Outbox.flush(), new Promise((r) => setTimeout(r, 1500))]); location.href = $("k-done").getAttribute("href"); }
  // done is how much of the set at hand is done clean so far.
  const done = () => { const b = beat(); return b.kind !== "work" ? {} : { repetitions: b.n - 1, seconds: b.n > 1 ? round(beats[state.beat - 1].seconds) : round(state.spent), best_hold: b.unit === "holds" ? round(Math.max(b.n > 1 ? beats[state.beat - 1].seconds : 0, state.spent)) : undefined }; };
  // other marks what the other side did of a set of alternating lifts that ends before its time.
  function other(b, set) {
    if (!item().alternating || b.kind !== "work") return [];
    const did = beats.slice(0, state.beat).filter((x) => x.item === b.item && x.set === set && x.kind === "work" && x.side !== b.side);
    const last = did[did.length - 1];
    if (!last || last.set_ends) return []; // nothing yet, or marked already
    return [mark("skipped", { side: sideOf(last), set, repetitions: last.n, seconds: round(last.seconds), best_hold: last.unit === "holds" ? round(last.seconds) : undefined })];
  }
  function next() {
    const b = beat(), was = { ...state };
    const left = beats.slice(state.beat).some((x) => x.item === b.item && x.kind === "work");
    const ms = left ? [...other(b, b.set || 1), mark("skipped", done())] : [];
    const n = beats.findIndex((x, i) => i > state.beat && x.item > b.item);
    if (ms.length) say(item().name + ": the rest of it left out.", undoOf(ms, was));
    if (n < 0) finish(); else go(n);
  }
  const back = () => { const b = beat(); go(state.beat > firstOf(b.item) || b.item === 0 ? firstOf(b.item) : firstOf(b.item - 1)); };
  const advice = { shaking: "Is it anchored well? Press the standing foot or hand down first.", tingling: "Take the hand to the belly, and see whether it goes.", cramp: "Move it gently until it lets go.", soreness: "That is enough of it for today." };
  // The set ends at such a mark: on to the rest, the other side or what follows.
  function ends(kind, words) {
    const b = beat(), was = { ...state }, set = b.set || 1, ms = other(b, set), m = mark(kind, { ...done(), set });
    ms.push(m);
    say(words + ": " + item().name + (sideOf(b) ? ", " + sideOf(b) : "") + ". Noted; the set ends here. " + (advice[kind] || ""), undoOf(ms, was));
    let n = state.beat + 1;
    const both = item().alternating, same = (x) => x.item === b.item && (both || x.side === b.side);
    while (n < beats.length && same(beats[n]) && beats[n].set <= set && beats[n].kind === "work") n++;
    if (kind === "pain") { while (n < beats.length && same(beats[n])) n++; pause("pain"); askPain(m, b); }
    if (n < beats.length && !day().ended) go(n); else if (n >= beats.length && kind !== "pain") finish();
  }
  function askPain(m, b) {
    let where = "", score = null;
    const side = m.side || "";
    const choose = (box, list, pick) => {
      box.replaceChildren(...list.map(([value, words]) => { const x = document.createElement("button"); x.type = "button"; x.textContent = words; x.onclick = () => { for (const y of box.children) y.removeAttribute("aria-pressed"); x.setAttribute("aria-pressed", "true"); pick(value); }; return x; }));
    };
    const tell = () => {
      if (score === null) return;
      mark("corrected", { item: "", variant: "", side: "", set: 0, of: m.id, values: { score, ...(where ? { where } : {}) } });
      marks.set(m.id, { ...m, score, where });
      $("t-pain").close();
      const d = day(), it = lesson.items[b.item], place = where ? " in the " + where.replace("_", " ") : "";
      if (d.ended) halt(d.ended);
      else if (score >= lesson.rules.over) {
        const to = onward(state.beat);
        if (to < beats.length) { state.beat = to; state.spent = 0; }
        shown = ""; save(); show();
        halt("Pain of " + score + place + ": " + it.name + " is left out, every set and side" + (d.left ? ", and " + d.left + " more that " + (d.left === 1 ? "loads" : "load") + " it" : "") + ".");
      } else if (score >= lesson.rules.ease && beats.slice(state.beat).some((x) => x.item === b.item && x.kind === "work")) ease(score, it, b);
    };
    choose($("t-where"), lesson.places.map((p) => [p.Value, p.Words]), (v) => { where = v; });
    // How much may be typed, too.
    $("t-pain").onkeydown = (e) => { if (/^[0-9]$/.test(e.key)) { e.preventDefault(); score = Number(e.key); tell(); } };
    choose($("t-score"), Array.from({ length: 11 }, (_, i) => [i, String(i)]), (v) => { score = v; tell(); });
    $("t-pain-h").textContent = "Where" + (side ? " (" + side + " side worked)" : "") + ", and how much?";
    $("t-pain").showModal();
  }
  // Pain of 3 to 5: what is left of the exercise is offered a step easier.
  function ease(score, it, b) {
    const box = $("t-ease-ways"), at = { side: beat().side, set: beat().set };
    const way = (words, act) => { const x = document.createElement("button"); x.type = "button"; x.textContent = words; x.onclick = () => { $("t-ease").close(); act(); }; return x; };
    box.replaceChildren(
      ...it.easier.filter((s) => !s.barred).map((s) => way(s.name, () => within({ kind: "swap", variant: s.id }, "easier", "Now " + s.name + ".", at))),
      way("A notch easier", () => within({ kind: "easier" }, "", "Set a notch easier: check it before going on.", at)),
      way("Leave the rest of it out", () => { const n = beats.findIndex((x) => x.item > b.item); mark("skipped", { set: 0 }); if (n < 0) finish(); else go(n); }),
      way("Go on as it is", () => {}));
    $("t-ease-why").textContent = "Pain of " + score + ": the rest of “" + it.name + "” a step easier?";
    $("t-ease").showModal();
  }
  // A stop: with what may still be done, or a calm ending where nothing may.
  function halt(why) {
    pause("stopped");
    const d = day();
    $("t-halt-why").textContent = why;
    $("t-halt-on").hidden = $("t-halt-rest").hidden = d.ended !== "";
    $("t-halt-end").replaceChildren(...(d.ended ? lesson.rules.ending : []).map((text) => { const p = document.createElement("p"); p.textContent = text; return p; }));
    if (!$("t-halt").open) $("t-halt").showModal();
  }
  async function restAnew() {
    $("t-halt").close();
    await Promise.race([Outbox.flush(), new Promise((r) => setTimeout(r, 4000))]);
    if (await Outbox.waiting()) { say("That needs a connection: what is barred is left out, and the lesson goes on.", null); go(state.beat); return; }
    const minutes = Math.max(2, Math.round((lesson.total - beat().at - state.spent) / 60));
    await within({ kind: "continue", minutes }, "", "The rest is planned for " + minutes + " minutes, without what loads what hurts.");
  }
  function swapSide() {
    const b = beat();
    if (!b.side || item().uneven) return;
    state.swap = state.swap === b.id ? "" : b.id;
    shown = ""; save(); show();
  }

  // Changes of the plan within the lesson: asked for at once, refused with the reason.
  async function within(ask, kind, words, place) {
    const it = item();
    let answer;
    try {
      answer = await fetch(`/plans/${plan}/within`, { method: "POST", headers: { "Content-Type": "application/json", "X-Page": Outbox.page }, body: JSON.stringify({ item: it.id, was: it.variant, ...ask }) });
    } catch { say("That needs a connection. Use a cue, or leave it out and go on.", null); return; }
    const says = await answer.json();
    if (!answer.ok) { say("Not changed: " + says.error, null); return; }
    if (kind) mark(kind, { to: ask.variant });
    take(says, it.id, place);
    say(words, null);
  }
  function take(says, id, place) {
    const stood = beat();
    lesson = { ...says, marks: undefined }; beats = lesson.beats;
    const same = beats.findIndex((b) => b.id === stood.id && b.kind === stood.kind && b.side === stood.side && b.set === stood.set && b.n === stood.n);
    const same_variant = same >= 0 && lesson.items[beats[same].item].variant === (says.items.find((x) => x.id === id) || {}).variant && id !== stood.id;
    let at = beats.findIndex((b) => b.id === (id || stood.id));
    if (place) { // what was done of it is done
      const rest = beats.findIndex((b) => b.id === id && b.kind !== "change" && (!place.side || b.side === place.side) && b.set >= (place.set || 1));
      if (rest > at) at = rest;
    }
    if (id && !same_variant) { state.beat = Math.max(0, at); state.spent = 0; } else if (same >= 0) state.beat = same; else { state.beat = Math.max(0, at); state.spent = 0; }
    state.beat = Math.min(onward(state.beat), beats.length - 1);
    shown = ""; save(); show(); keepHere();
  }
  const step = (list, kind) => {
    const s = list.find((x) => !x.barred);
    if (!s) { say(list.length ? { easier: "Easier", harder: "Harder", instead: "Instead" }[kind] + ", " + list[0].name + ": " + list[0].barred : kind === "instead" ? "Nothing else here does the same." : "There is nothing " + kind + " on this ladder here.", null); return; }
    within({ kind: "swap", variant: s.id }, kind === "instead" ? "swapped" : kind, "Now " + s.name + ".");
  };
  function addTime(seconds) { added += seconds; state.spent = state.spent - seconds; mark("added_time", { seconds }); say(seconds + " seconds more of it.", null); shown = ""; show(); }
  function tighter(side) {
    mark("tighter", { side, set: 0 });
    addTime(30);
    say(side + " is tighter: half a minute more on it, and noted.", null);
  }

  // The drawer holds what is needed less often. Everything in it is one tap.
  // It is drawn anew as the lesson goes on; what is being typed in it stays, and so does the focus.
  let tab = "marks", noting = "", left = null;
  try { noting = localStorage.getItem("restbend.note." + plan) || ""; } catch { /* none */ }
  function typed(words) { noting = words; try { if (words) localStorage.setItem("restbend.note." + plan, words); else localStorage.removeItem("restbend.note." + plan); } catch { /* not kept */ } }
  function keepNote() {
    const text = noting.trim();
    typed("");
    if (text) mark("note", { text, side: "", set: 0 });
    return text;
  }
  function drawer() {
    const it = item(), body = $("t-drawer-body");
    const el = (name, props, ...kids) => { const x = document.createElement(name); Object.assign(x, props); x.append(...kids.filter((k) => k !== null)); return x; };
    const button = (words, act, k) => el("button", { type: "button", onclick: act }, words, k ? el("kbd", {}, k) : "");
    const group = (title, ...kids) => el("div", { className: "t-group" }, el("h2", {}, title), ...kids);
    const row = (...kids) => el("div", { className: "t-row" }, ...kids);
    const steps = (list, kind) => list.map((s) => s.barred ? el("p", { className: "t-barred" }, kind + ": " + s.name + ". " + s.barred) : button(kind + ": " + s.name, () => within({ kind: "swap", variant: s.id }, kind === "instead" ? "swapped" : kind, "Now " + s.name + ".")));
    const moment = state.elapsed < lesson.total / 3 ? "before" : "after";
    const check = (less) => { mark("side_check", { side: "", set: 0, moment, less }); say("Side check " + moment + ": " + (less === "equal" ? "equal" : less + " moves less") + ".", null); drawer(); };
    const checks = [...marks.values()].filter((m) => m.kind === "side_check").map((m) => m.moment + ": " + (m.less === "equal" ? "equal" : m.less + " moves less"));
    const note = el("textarea", { rows: 2, maxLength: 2000 }); note.setAttribute("aria-label", "Note");
    note.value = noting; note.oninput = () => typed(note.value);
    const minutes = el("input", { inputMode: "numeric", value: left ?? Math.max(2, Math.round((lesson.total - beat().at) / 60)), size: 3, oninput: (e) => { left = e.target.value; } }); minutes.setAttribute("aria-label", "Minutes left");
    const anew = () => within({ kind: "continue", minutes: Number(minutes.value) | 0 }, "", "The rest is planned for " + minutes.value + " minutes.");
    minutes.onkeydown = (e) => { if (e.key === "Enter") { e.preventDefault(); anew(); more(false); } };
    const tabs = el("div", { className: "t-tabs", role: "tablist" }, ...[["marks", "Marks"], ["change", "Change it"], ["hurts", "It hurts"], ["tools", "Tools"]].map(([id, words]) => { const t = button(words, () => { tab = id; drawer(); }); t.setAttribute("role", "tab"); t.setAttribute("aria-selected", tab === id); return t; }));
    const pages = {
      marks: () => [
        group("The set ends", row(button("Shaking", () => ends("shaking", "Shaking"), "K"), button("Tingling", () => ends("tingling", "Tingling"), "G"), button("Cramp", () => ends("cramp", "Cramp"), "C"), button("Soreness", () => ends("soreness", "Soreness"), "O"))),
        group("It goes on", row(button("Pinch", () => { mark("pinch"); say("Pinch noted.", null); }), button("A solid stop", () => { mark("solid_stop"); say("A solid stop noted.", null); }), button("Left is tighter", () => tighter("left")), button("Right is tighter", () => tighter("right")), button("This cue worked", cueWorked, "W"))),
        group("Side check" + (checks.length ? " (" + checks.join("; ") + ")" : ""), row(button("Left moves less", () => check("left")), button("Right moves less", () => check("right")), button("Equal", () => check("equal")))),
        group("Pelvic clock: tap an hour once where it was hesitant, twice where it was jerky", row(...Array.from({ length: 12 }, (_, i) => i + 1).map((h) => { const q = hourOf(h); const x = button(String(h) + (q ? " " + q : ""), () => { mark("clock_hour", { hour: h, quality: q === "" || q === "smooth" ? "hesitant" : q === "hesitant" ? "jerky" : "smooth", side: "", set: 0 }); drawer(); }); x.setAttribute("aria-label", h + " o’clock: " + (q || "not tried")); return x; }))),
        group("Note", note, row(button("Keep the note", () => { if (keepNote()) say("Noted.", null); note.value = noting; }))),
      ],
      change: () => [
        ...(it.easier.length + it.harder.length ? [group("Another step", row(...steps(it.easier, "easier"), ...steps(it.harder, "harder")))] : []),
        group("A notch of what it is done with" + (it.with ? " (" + it.with + ")" : ""), row(button("A notch easier", () => within({ kind: "easier" }, "", "Set a notch easier: check it before going on."), ","), button("A notch harder", () => within({ kind: "harder" }, "", "Set a notch harder: check it before going on."), "."))),
        ...(it.swaps.length ? [group("Something else for the same purpose", row(...steps(it.swaps, "instead")))] : []),
        group("Time", row(button("30 seconds more", () => addTime(30), "+"), el("label", {}, "Minutes left ", minutes), button("Plan the rest anew", anew))),
        group("Watch for", ...it.faults.map((f) => el("p", {}, el("strong", {}, f.fault + ": "), f.correction))),
      ],
      hurts: () => [...(it.complaints.length ? it.complaints.map((k) => group(lesson.client + "’s " + k.words, el("ol", {}, ...k.steps.map((s) => el("li", {}, s.barred ? el("span", { className: "t-barred" }, s.text + ": " + s.barred) : s.to ? button(s.text, () => { mark("stepped", { which: k.where + ": " + s.text }); within({ kind: "swap", variant: s.to }, "swapped", "Now " + s.text + "."); }) : button(s.text, () => { mark("stepped", { which: k.where + ": " + s.text }); say(s.text, null); })))))) : [group("It hurts", el("p", {}, "Nothing is known to try for this one. Mark the pain, and leave it out."))]),
        group("A warning sign ends the lesson", row(...lesson.flags.map((f) => button(f.Words, () => warn(f)))))],
      tools: () => [
        group("Sound", row(toggleOf("Tones", "sound"), toggleOf("Read the cue aloud", "speak"))),
        group("Other screens", row(el("a", { href: `/plans/${plan}/screen`, target: "_blank", rel: "opener" }, "What the client sees"), el("a", { href: `/plans/${plan}/remote`, target: "_blank" }, "A remote control"))),
        group("Simulated devices (no real ones are attached)", row(...Devices.kinds.map((k) => button((device?.kind === k ? "Put away: " : "") + Devices.open(k, lesson.breath).words, () => useDevice(k)))), devicePanel(el, button, row)),
      ],
    };
    const toggleOf = (words, what) => { const x = button(words, () => { wants[what] = !wants[what]; try { localStorage.setItem("restbend.teach", JSON.stringify(wants)); } catch { /* not kept */ } drawer(); }); x.setAttribute("aria-pressed", wants[what]); return x; };
    const inside = () => [...body.querySelectorAll("button, input, textarea, a")], named = (x) => x.tagName + (x.ariaLabel || x.textContent);
    const was = document.activeElement, at = inside().indexOf(was), marked = at >= 0 && was.matches("input, textarea") ? [was.selectionStart, was.selectionEnd] : null;
    body.replaceChildren(tabs, ...pages[tab]());
    if (at < 0) return;
    const now = inside().find((x) => named(x) === named(was)) || inside()[at];
    now?.focus();
    if (marked && now?.matches("input, textarea")) now.setSelectionRange(...marked);
  }
  function more(on) {
    left = null;
    $("t-drawer").hidden = !on; $("k-more").setAttribute("aria-expanded", on);
    if (on) { drawer(); $("t-drawer-body").querySelector("[aria-selected=true]").focus(); } else $("k-more").focus();
  }
  // Late: how many minutes are left, and the rest is planned anew.
  function late() { tab = "change"; more(true); const field = $("t-drawer-body").querySelector("input[aria-label='Minutes left']"); field.focus(); field.select(); }
  const hourOf = (h) => { let q = ""; for (const m of marks.values()) if (m.kind === "clock_hour" && m.hour === h) q = m.quality; return q; };
  // A warning sign ends the lesson; the mark is kept with the client as well, as soon as it is sent.
  function warn(f) {
    mark("warning", { flag: f.Value, item: "", variant: "", side: "", set: 0 });
    more(false);
    halt("Warning sign: " + f.Words);
  }
  const cueWorked = () => { const cue = $("t-cue").textContent; mark("cue_worked", { cue, set: 0 }); say("“" + cue + "” worked: noted.", null); };

  // Simulated devices: what they measure is kept with the lesson as a small series.
  let device = null, series = null, gauge = null, pace = lesson.breath;
  // repace gives every breath that is still to come the length that was measured.
  function repace() {
    let at = 0;
    beats.forEach((b, i) => { if (i > state.beat && b.kind === "work" && b.unit === "breaths") b.seconds = pace; b.at = at; at += b.seconds; });
    lesson.total = at;
  }
  function useDevice(kind) {
    if (device) { sendSeries(); clearInterval(gauge); }
    device = device?.kind === kind ? null : Devices.open(kind, lesson.breath);
    if (device) {
      series = { id: crypto.randomUUID(), device: kind, unit: device.unit, began_s: round(state.elapsed), step_s: 0.5, values: [], low: device.low, high: device.high, variant: item().variant };
      const began = now(); let outside = 0;
      gauge = setInterval(() => {
        const t = now() - began, v = device.sample(t);
        const line = document.getElementById("t-gauge");
        if (v === null) { if (line) line.textContent = device.words + ": unplugged. The lesson goes on without it."; return; }
        if (series.values.length < 5000) series.values.push(Math.round(v * 10) / 10);
        if (line) line.textContent = `${device.words}, simulated: ${v.toFixed(1)} ${device.unit}` + (device.kind === "belt" ? "" : v < device.low ? ", below the band" : v > device.high ? ", above the band" : ", in the band");
        if (device.kind === "cuff") { outside = v < device.low || v > device.high ? outside + 1 : 0; if (outside === 4 && running && beat().kind === "work") ends("form", "The cuff left its band"); }
        if (device.kind === "belt" && series.values.length % 40 === 0) { const b = Devices.breathLength(series.values.map((x, i) => [i * series.step_s, x])); if (b && Math.abs(b - pace) > 0.3) { pace = b; repace(); say(`The belt reads a breath of ${b.toFixed(1)} seconds: the pacer follows it (planned ${lesson.breath}).`, null); } }
        if (series.values.length % 10 === 0) sendSeries();
      }, 500);
    }
    drawer();
  }
  function sendSeries() { if (series?.values.length) fetch(`/plans/${plan}/series`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(series) }).catch(() => {}); }
  function devicePanel(el, button, row) {
    if (!device) return null;
    const faults = Object.entries(device.faults).map(([name, words]) => { const x = button(words, () => { const on = x.getAttribute("aria-pressed") !== "true"; x.setAttribute("aria-pressed", on); device.set(name, on, 0.001); }); x.setAttribute("aria-pressed", "false"); return x; });
    return el("div", {}, el("p", { id: "t-gauge", className: "t-gauge" }, "…"), row(...faults));
  }

  // What other screens of this lesson are told, and what a remote control asks.
  let told = "";
  function stands() {
    const b = beat(), says = JSON.stringify({ beat: state.beat, spent: round(state.spent), running, swap: state.swap, item: b.id, variant: item().variant });
    if (says === told) return;
    told = says;
    fetch(`/plans/${plan}/stands`, { method: "POST", headers: { "Content-Type": "application/json" }, body: says }).catch(() => {});
  }
  function listen() {
    const live = new EventSource(`/plans/${plan}/follow`);
    live.addEventListener("time", (e) => { const by = Date.parse(JSON.parse(e.data)) - Date.now(); ahead = Math.abs(by) > 60000 ? by : 0; root.dataset.heard = "yes"; });
    live.addEventListener("order", (e) => { const act = orders[JSON.parse(e.data).do]; if (act) act(); });
    live.addEventListener("marks", async (e) => {
      if (JSON.parse(e.data).from === Outbox.page) return;
      try { for (const m of (await (await fetch(`/plans/${plan}/marks`)).json()).marks) marks.set(m.id, m); } catch { return; }
      say("Marks from another screen were added.", null);
      const d = day(), to = onward(state.beat);
      if (d.ended) halt(d.ended); else if (to !== state.beat) go(to);
      if (!$("t-drawer").hidden) drawer();
    });
    live.addEventListener("plan", async (e) => {
      if (JSON.parse(e.data).from === Outbox.page) return;
      try { take(await (await fetch(`/plans/${plan}/lesson`)).json(), ""); say("The plan was changed on another screen.", null); } catch { /* later */ }
    });
  }
  // What is needed without a connection is put by at once.
  async function keepHere() {
    if (!("serviceWorker" in navigator)) return;
    const worker = (await navigator.serviceWorker.ready).active;
    const theme = root.classList.contains("is-dark") ? "Dark" : "Light";
    worker.postMessage({ keep: [location.pathname, `/plans/${plan}/wrap-up`, ...lesson.items.flatMap((it, i) => [...Object.values(it.figures[theme]), `/plans/${plan}/film/${i + 1}?theme=${theme.toLowerCase()}`]), ...[...document.querySelectorAll("link[href], script[src]")].map((x) => new URL(x.href || x.src).pathname)] });
  }

  const toggle = () => { running ? pause() : start(); };
  function dark(keep = true) {
    const on = root.classList.toggle("is-dark");
    document.body.classList.toggle("is-dark", on);
    $("k-dark").setAttribute("aria-pressed", on);
    if (keep) try { localStorage.setItem("restbend.dark", on ? "1" : ""); } catch { /* not kept */ }
    show(); keepHere();
  }
  const orders = { toggle, next, back, side: swapSide, form: () => ends("form", "Form broke"), pain: () => ends("pain", "Pain") };
  const keys = [[" ", "space", "start, pause, go on", toggle], ["ArrowRight", "→", "the next exercise", next], ["ArrowLeft", "←", "back", back], ["PageDown", "Page Down", "the next exercise", next], ["PageUp", "Page Up", "back", back],
    ["s", "S", "the other side", swapSide], ["f", "F", "form broke", orders.form], ["p", "P", "pain", orders.pain], ["k", "K", "shaking", () => ends("shaking", "Shaking")], ["g", "G", "tingling", () => ends("tingling", "Tingling")],
    ["c", "C", "cramp", () => ends("cramp", "Cramp")], ["o", "O", "soreness", () => ends("soreness", "Soreness")], ["w", "W", "this cue worked", cueWorked], ["e", "E", "an easier step", () => step(item().easier, "easier")], ["h", "H", "a harder step", () => step(item().harder, "harder")], ["i", "I", "something else instead", () => step(item().swaps, "instead")], ["l", "L", "late: the rest anew", late],
    [",", ",", "a notch easier", () => within({ kind: "easier" }, "", "Set a notch easier: check it before going on.")], [".", ".", "a notch harder", () => within({ kind: "harder" }, "", "Set a notch harder: check it before going on.")],
    ["+", "+", "thirty seconds more", () => addTime(30)], ["u", "U", "undo", takeBack], ["m", "M", "more", () => more($("t-drawer").hidden)], ["d", "D", "dim room", () => dark()], ["?", "?", "these keys", () => $("t-help").showModal()], ["Escape", "Esc", "close", () => { if (!$("t-drawer").hidden) more(false); }]];
  $("t-help-keys").replaceChildren(...keys.flatMap(([, cap, words]) => { const dt = document.createElement("dt"), dd = document.createElement("dd"), k = document.createElement("kbd"); k.textContent = cap; dt.append(k); dd.textContent = words; return [dt, dd]; }));
  $("k-pause").onclick = toggle; $("k-next").onclick = next; $("k-back").onclick = back; $("k-side").onclick = swapSide; $("k-form").onclick = orders.form; $("k-pain").onclick = orders.pain;
  $("k-done").onclick = (e) => { e.preventDefault(); if (running) pause(); leave(); };
  $("k-dark").onclick = () => dark(); $("k-more").onclick = () => more($("t-drawer").hidden); $("t-drawer-close").onclick = () => more(false); $("t-undo").onclick = takeBack; $("k-keys").onclick = () => $("t-help").showModal();
  $("t-pain-later").onclick = () => $("t-pain").close(); $("t-help-close").onclick = () => $("t-help").close();
  $("t-halt-on").onclick = () => { $("t-halt").close(); go(state.beat); };
  $("t-halt-rest").onclick = restAnew;
  $("t-halt").addEventListener("cancel", (e) => { if (day().ended) e.preventDefault(); });
  addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || document.querySelector("dialog[open]")) return;
    if (e.target.closest("input, textarea, select") && e.key !== "Escape") return;
    const k = keys.find(([code]) => code === e.key) || keys.find(([code]) => code === e.key.toLowerCase());
    if (!k || k[0].length === 1 && k[0] !== " " && "noLetters" in document.documentElement.dataset || (e.key === " " && e.target.closest("a, #t-drawer button, .t-foot button, #t-undo"))) return;
    e.preventDefault(); k[3]();
  });
  addEventListener("pagehide", () => { save(); sendSeries(); });
  Outbox.listen((s) => { $("t-unsent").textContent = s.refused ? "Not taken: " + s.refused : s.marks + s.forms ? s.marks + s.forms + " not sent yet, kept in this browser" : ""; });

  (async () => {
    for (const m of await Outbox.marksOf(plan)) marks.set(m.id, m);
    try { Object.assign(wants, JSON.parse(localStorage.getItem("restbend.teach"))); } catch { /* as they are */ }
    restore();
    let keepDark = null; // as the rest of the pages, until it was set here
    try { keepDark = localStorage.getItem("restbend.dark"); } catch { /* as the rest */ }
    const rest = document.documentElement.dataset.scheme || (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
    if (keepDark === null ? rest === "dark" : keepDark) dark(false); else show();
    label(); listen(); keepHere();
    const d = day();
    if (d.ended) halt(d.ended); else if (onward(state.beat) !== state.beat) go(state.beat);
    root.dataset.ready = "yes";
  })();
})();
