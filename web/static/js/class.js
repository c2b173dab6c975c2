"use strict";
// Runs a class: one clock, everybody's version with names, two taps for a mark. Marks go
// into each person's own lesson, to the browser's store first (outbox.js).
(() => {
  const $ = (id) => document.getElementById(id);
  const lesson = JSON.parse($("lesson").textContent), key = "restbend.class." + lesson.class;
  let state = { item: 0, spent: 0, elapsed: 0, absent: [], out: {} }; // out: by item and person, who does it no more, and why
  const ahead = Date.parse(lesson.now) - Date.now(); // of the server's clock
  const at = () => new Date(Date.now() + ahead).toISOString();
  let running = false, anchor = 0, last = null, who = -1;
  try { state = { ...state, ...JSON.parse(localStorage.getItem(key)) }; } catch { /* nothing kept */ }
  state.item = Math.min(Math.max(0, state.item | 0), lesson.items.length - 1);
  state.absent = state.absent.filter((p) => p < lesson.people.length);
  const clock = (s) => { s = Math.max(0, Math.ceil(s)); return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0"); };
  const save = () => { try { localStorage.setItem(key, JSON.stringify(state)); } catch { /* a private window */ } };
  const item = () => lesson.items[state.item];
  const outOf = (i, p) => state.out[i + "." + p];
  const say = (words) => { $("ct-said").textContent = words; };

  function mark(p, kind, more = {}) {
    const d = lesson.people[p].items[state.item];
    const m = { id: crypto.randomUUID(), item: d.id, variant: d.variant, kind, at: at(), clock_s: Math.round(state.elapsed * 10) / 10, ...more };
    for (const k of Object.keys(m)) if (m[k] === "" || m[k] === undefined) delete m[k];
    Outbox.mark(lesson.people[p].plan, m);
    return { p, id: m.id };
  }
  // What was done of an item, for everybody who did it.
  function done() {
    const made = [];
    lesson.people.forEach((person, p) => {
      if (state.absent.includes(p) || outOf(state.item, p)) return;
      for (const s of person.items[state.item]?.sets || []) made.push(mark(p, "set_done", s));
    });
    state.marked = { ...(state.marked || {}), [state.item]: made };
  }
  function takeBack(made) {
    for (const m of made || []) Outbox.mark(lesson.people[m.p].plan, { id: crypto.randomUUID(), kind: "corrected", of: m.id, void: true, at: at(), clock_s: Math.round(state.elapsed * 10) / 10 });
  }
  function next() {
    if (!state.marked?.[state.item]) done();
    if (state.item < lesson.items.length - 1) { state.item++; state.spent = 0; } else { running = false; state.spent = item().seconds; say("That was the last. Keep the records."); $("ct-end").querySelector("button").focus(); }
    save(); show();
  }
  function back() {
    if (state.item === 0) return;
    state.item--; state.spent = 0;
    takeBack(state.marked?.[state.item]);
    if (state.marked) delete state.marked[state.item];
    save(); show();
  }
  function tick() {
    if (!running) return;
    const now = performance.now(), s = Math.min(2, (now - anchor) / 1000);
    anchor = now; state.spent += s; state.elapsed += s;
    if (state.spent >= item().seconds) next(); else count();
    requestAnimationFrame(tick);
  }
  function go() {
    running = !running; anchor = performance.now();
    $("ct-go").firstChild.textContent = running ? "Pause " : "Go on ";
    if (running) requestAnimationFrame(tick); else save();
  }
  function count() {
    const it = item();
    $("ct-count").textContent = clock(it.seconds - state.spent);
    $("ct-bar").value = 100 * state.spent / it.seconds;
    $("ct-left").textContent = clock(lesson.items.slice(state.item).reduce((sum, x) => sum + x.seconds, 0) - state.spent);
  }
  function show() {
    const it = item(), following = lesson.items[state.item + 1];
    $("ct-thread").textContent = it.thread;
    $("ct-place").textContent = lesson.name + ", " + (state.item + 1) + " of " + lesson.items.length;
    $("ct-figure").src = it.figure; $("ct-figure").alt = it.thread;
    $("ct-cue").textContent = it.groups[0].cue;
    $("ct-next").textContent = following ? following.thread : "the end";
    $("ct-groups").replaceChildren(...it.groups.map((g) => {
      const box = document.createElement("section"), img = document.createElement("img"), text = document.createElement("div"), h = document.createElement("h2"), names = document.createElement("div");
      box.className = "ct-group"; img.src = g.figure; img.alt = "";
      h.textContent = g.name + (g.words ? " (" + g.words + ")" : "");
      text.append(h);
      for (const d of g.doses) { const p = document.createElement("p"); p.textContent = d; text.append(p); }
      names.className = "ct-people";
      for (const p of g.people) {
        const b = document.createElement("button"), why = outOf(state.item, p);
        b.type = "button"; b.textContent = lesson.people[p].name + (why ? ", " + why : ""); b.className = why ? "is-marked" : state.absent.includes(p) ? "is-absent" : "";
        b.addEventListener("click", () => ask(p));
        names.append(b);
      }
      text.append(names); box.append(img, text);
      return box;
    }));
    $("ct-undo").hidden = !last;
    count();
  }
  function ask(p) {
    who = p;
    $("ct-who-h").textContent = lesson.people[p].name;
    $("ct-absent").textContent = state.absent.includes(p) ? "Is here again" : "Is not here";
    $("ct-who").showModal();
  }
  function answer(words, marks, undo) {
    $("ct-who").close();
    last = { undo() { takeBack(marks); undo(); } };
    say(lesson.people[who].name + ": " + words); save(); show();
  }
  for (let n = 1; n <= 10; n++) {
    const b = document.createElement("button");
    b.type = "button"; b.textContent = n; b.setAttribute("aria-label", "Pain " + n + " of 10");
    b.addEventListener("click", () => {
      const place = state.item + "." + who, m = mark(who, "pain", { score: n });
      state.out[place] = "pain " + n;
      answer("pain " + n + ", rests now", [m], () => { delete state.out[place]; });
    });
    $("ct-scores").append(b);
  }
  $("ct-skip").addEventListener("click", () => {
    const place = state.item + "." + who, m = mark(who, "skipped");
    state.out[place] = "sits out";
    answer("sits this one out", [m], () => { delete state.out[place]; });
  });
  $("ct-absent").addEventListener("click", () => {
    const p = who, here = state.absent.includes(p), before = [...state.absent];
    state.absent = here ? state.absent.filter((x) => x !== p) : [...state.absent, p];
    answer(here ? "is here again" : "is not here; what was done before is kept", [], () => { state.absent = before; });
  });
  $("ct-close").addEventListener("click", () => $("ct-who").close());
  const undo = () => { if (last) { last.undo(); last = null; say("Taken back."); save(); show(); } };
  $("ct-undo").addEventListener("click", undo);
  $("ct-go").addEventListener("click", go); $("ct-on").addEventListener("click", next); $("ct-back").addEventListener("click", back);
  addEventListener("keydown", (e) => {
    if (e.target.closest("input, textarea, dialog[open]") || e.ctrlKey || e.metaKey || e.altKey) return;
    const act = { " ": go, ArrowRight: next, ArrowLeft: back, u: undo }[e.key];
    if (e.key === "u" && "noLetters" in document.documentElement.dataset) return;
    if (act && !(e.key === " " && e.target.closest("button, a, summary"))) { e.preventDefault(); act(); }
  });
  // The records are made of the marks, so these go first.
  $("ct-end").addEventListener("submit", async (e) => {
    e.preventDefault();
    const form = e.target;
    running = false;
    say("Sending what was marked.");
    await Outbox.flush();
    if (await Outbox.waiting()) { say("There is no connection: what was marked is kept in this browser. Keep the records when it is back."); return; }
    try { localStorage.removeItem(key); } catch { /* a private window */ }
    form.submit();
  });
  // Late, somebody left, or it hurts: the rest is planned anew for those who are here.
  const rest = $("ct-rest");
  rest.elements.minutes.value = Math.max(3, Math.round((lesson.total - state.elapsed) / 60));
  rest.addEventListener("submit", async (e) => {
    e.preventDefault();
    running = false;
    const add = (name, value) => { const i = document.createElement("input"); i.type = "hidden"; i.name = name; i.value = value; rest.append(i); };
    const begun = state.spent > 0 && !state.marked?.[state.item];
    if (begun) { done(); state.item++; state.spent = 0; } // what has begun stays
    rest.elements.done.value = Math.min(state.item, lesson.items.length);
    for (const p of state.absent) add("absent", lesson.people[p].plan);
    for (const [at, why] of Object.entries(state.out)) { const [, p] = at.split("."); if (why.startsWith("pain ")) add("hurts", lesson.people[p].plan + " " + why.slice(5)); }
    say("Planning the rest.");
    save();
    await Outbox.flush();
    if (await Outbox.waiting()) { say("There is no connection: the rest stays as it was. Try again when it is back."); return; }
    rest.submit();
  });
  show();
  $("ct").dataset.ready = "yes";
})();
