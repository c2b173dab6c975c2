"use strict";
// Runs a class: one clock, everybody's version with names, two taps for a mark. Marks go
// into each person's own lesson, to the browser's store first (outbox.js). What hurts one
// bears on all that is left for this one (assess.js), and the others go on.
(() => {
  const $ = (id) => document.getElementById(id);
  const lesson = JSON.parse($("lesson").textContent), key = "restbend.class." + lesson.class;
  let state = { item: 0, spent: 0, elapsed: 0, absent: [], out: {}, easier: {} }; // by item and person: who does it no more, and why; who does another
  const ahead = Date.parse(lesson.now) - Date.now(); // of the server's clock
  const at = () => new Date(Date.now() + ahead).toISOString();
  let running = false, anchor = 0, last = null, who = -1;
  try { state = { ...state, ...JSON.parse(localStorage.getItem(key)) }; } catch { /* nothing kept */ }
  state.item = Math.min(Math.max(0, state.item | 0), lesson.items.length - 1);
  state.absent = state.absent.filter((p) => p < lesson.people.length);
  const clock = (s) => { s = Math.max(0, Math.ceil(s)); return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0"); };
  const save = () => { try { localStorage.setItem(key, JSON.stringify(state)); } catch { /* a private window */ } };
  const item = () => lesson.items[state.item];
  const marks = lesson.people.map((person) => new Map(person.marks.map((m) => [m.id, m])));
  const days = []; // what each person's marks allow
  const assessAll = () => marks.forEach((of, p) => { days[p] = assessMarks(lesson, [...of.values()]); days[p].ended ||= lesson.people[p].out; });
  // Why somebody does not do an exercise; empty who does it.
  const outOf = (i, p) => { const it = lesson.people[p].items[i]; return days[p].ended ? "stops" : it && days[p].barred(it) ? "rests" : state.out[i + "." + p] || ""; };
  // What stands by a name until it is taken back.
  function felt(p) {
    const of = [...days[p].stands.values()].filter((m) => m.kind === "pain" && m.score > 0).map((m) => (m.where ? m.where.replaceAll("_", " ") + " " : "pain ") + m.score);
    if (days[p].warned) of.push("a warning sign");
    return of;
  }
  const say = (words) => { $("ct-said").textContent = words; };

  function mark(p, kind, more = {}) {
    const d = lesson.people[p].items[state.item];
    const m = { id: crypto.randomUUID(), item: d?.id, variant: state.easier[state.item + "." + p]?.id || d?.variant, kind, at: at(), clock_s: Math.round(state.elapsed * 10) / 10, ...more };
    for (const k of Object.keys(m)) if (m[k] === "" || m[k] === undefined) delete m[k];
    if (kind !== "set_done") { marks[p].set(m.id, m); assessAll(); }
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
    for (const m of made || []) mark(m.p, "corrected", { item: "", variant: "", of: m.id, void: true });
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
        const b = document.createElement("button"), why = outOf(state.item, p), easier = state.easier[state.item + "." + p];
        b.type = "button"; b.textContent = [lesson.people[p].name, ...felt(p), why || (easier ? "does " + easier.name : "")].filter(Boolean).join(", ");
        b.className = state.absent.includes(p) ? "is-absent" : why || felt(p).length ? "is-marked" : "";
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
    $("ct-who-h").textContent = [lesson.people[p].name, ...felt(p)].join(", ");
    $("ct-absent").textContent = state.absent.includes(p) ? "Is here again" : "Is not here";
    $("ct-where").value = $("ct-sign").value = "";
    $("ct-slip").hidden = !felt(p).length;
    $("ct-who").showModal();
  }
  function answer(words, made, undo = () => {}) {
    $("ct-who").close();
    last = { undo() { takeBack(made); undo(); } };
    say(lesson.people[who].name + ": " + words); save(); show();
  }
  // Somebody stops: what to do now, and whom to call.
  function halt(p, why) {
    running = false; $("ct-go").firstChild.textContent = "Go on ";
    $("ct-halt-h").textContent = lesson.people[p].name + " stops here";
    $("ct-halt-why").textContent = why;
    $("ct-halt").showModal();
  }
  for (let n = 1; n <= 10; n++) {
    const b = document.createElement("button");
    b.type = "button"; b.textContent = n; b.setAttribute("aria-label", "Pain " + n + " of 10");
    b.addEventListener("click", () => {
      const p = who, place = state.item + "." + p, where = $("ct-where").value, m = mark(p, "pain", { score: n, where }), d = days[p];
      const easier = d.clear && n >= lesson.rules.ease && lesson.people[p].items[state.item]?.easier[0];
      if (easier) state.easier[place] = easier;
      answer(d.ended ? d.ended : n >= lesson.rules.over ? "pain " + n + ", rests now; left out for the rest is what " + (where ? "loads the " + where.replaceAll("_", " ") : "is not gentle") : easier ? "pain " + n + ", the rest of it easier: " + easier.name : "pain " + n, [m], () => { delete state.easier[place]; });
      if (d.ended) halt(p, d.ended);
    });
    $("ct-scores").append(b);
  }
  $("ct-sign").addEventListener("change", (e) => {
    const f = lesson.flags.find((f) => f.Value === e.target.value), p = who;
    if (!f) return;
    const m = mark(p, "warning", { item: "", variant: "", flag: f.Value });
    answer("a warning sign; stops here", [m]);
    halt(p, f.Words);
  });
  $("ct-slip").addEventListener("click", () => {
    const slips = [...days[who].stands.values()].filter((m) => m.kind === "pain" || m.kind === "warning").map((m) => ({ p: who, id: m.id }));
    takeBack(slips);
    answer("taken back", []);
    last = null; $("ct-undo").hidden = true;
  });
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
  $("ct-halt-close").addEventListener("click", () => $("ct-halt").close());
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
    if (!$("ct-after").open) { running = false; after(); return; }
    const form = e.target;
    form.elements.as_before.value = e.submitter?.id === "ct-as-before" ? "yes" : "";
    $("ct-after").close();
    say("Sending what was marked.");
    await Outbox.flush();
    if (await Outbox.waiting()) { say("There is no connection: what was marked is kept in this browser. Keep the records when it is back."); return; }
    try { localStorage.removeItem(key); } catch { /* a private window */ }
    form.submit();
  });
  // Pain after, of everybody who was here: as before, but for those who are named.
  function after() {
    const here = lesson.people.map((person, p) => ({ person, p })).filter(({ p }) => !state.absent.includes(p));
    $("ct-after-names").replaceChildren(...here.map(({ person }) => {
      const label = document.createElement("label"), pick = document.createElement("select"), words = document.createElement("span");
      words.textContent = person.name;
      pick.name = "after"; pick.setAttribute("form", "ct-end"); pick.add(new Option("as before", ""));
      for (let n = 0; n <= 10; n++) pick.add(new Option(n + " of 10", person.plan + " " + n));
      label.append(words, pick);
      return label;
    }));
    $("ct-after").showModal();
  }
  $("ct-after-close").addEventListener("click", () => $("ct-after").close());
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
    say("Planning the rest.");
    save();
    await Outbox.flush();
    if (await Outbox.waiting()) { say("There is no connection: the rest stays as it was. Try again when it is back."); return; }
    rest.submit();
  });
  for (const [list, of] of [["ct-where", lesson.places], ["ct-sign", lesson.flags]]) for (const x of of) $(list).add(new Option(x.Words, x.Value));
  assessAll();
  (async () => {
    for (const [p, person] of lesson.people.entries()) for (const m of await Outbox.marksOf(person.plan)) if (m.kind !== "set_done") marks[p].set(m.id, m);
    assessAll(); show();
    $("ct").dataset.ready = "yes";
  })();
})();
