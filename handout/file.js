"use strict";
(() => {
  const $ = id => document.getElementById(id);
  const data = JSON.parse($("data").textContent);
  const key = "rest-bend-diary-" + data.home;
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  const today = () => { const d = new Date(); return new Date(d - d.getTimezoneOffset() * 60000).toISOString().slice(0, 10); };

  // The diary, in this browser alone; where that cannot keep it, it lasts until the page is closed.
  let diary = {}, keeps = true;
  const read = () => { try { diary = JSON.parse(localStorage.getItem(key)) || {}; } catch { keeps = false; } };
  const now = () => diary[today()] ||= { done: [] };
  const write = () => {
    try { localStorage.setItem(key, JSON.stringify(diary)); } catch { keeps = false; }
    show();
  };
  const entries = () => Object.keys(diary).sort().map(on => ({ on, ...diary[on] })).filter(e => e.done.length || e.pain !== undefined || e.sore || e.note);
  const code = () => entries().map(e => e.on.slice(2).replaceAll("-", "") +
    (data.items.map((it, i) => e.done.includes(it.variant) ? "ABCDEF"[i] : "").join("") || "0") + (e.pain ?? "-") + (e.sore ? "s" : "")).join(" ");

  const make = (tag, set, ...inside) => { const e = Object.assign(document.createElement(tag), set); e.append(...inside); return e; };
  const cards = [];
  let running = null;

  const card = (it, letter) => {
    const img = make("img", { src: it.film[0] || "", alt: it.name });
    const clock = make("p", { className: "clock" });
    clock.setAttribute("role", "timer");
    const start = make("button", { type: "button", className: "tongue", textContent: "Start" });
    const done = make("button", { type: "button", className: "done", textContent: "Done today" });
    done.addEventListener("click", () => {
      const e = now();
      e.done = e.done.includes(it.variant) ? e.done.filter(v => v !== it.variant) : [...e.done, it.variant];
      write();
    });
    let at = 0, left = 0, last = 0, frame = 0;
    const stop = () => { cancelAnimationFrame(frame); running = null; start.textContent = "Start"; clock.textContent = ""; img.src = it.film[0] || ""; img.classList.remove("mirrored"); };
    const tick = t => {
      left -= (t - last) / 1000; last = t;
      if (left <= 0) {
        if (++at >= it.beats.length) {
          stop(); clock.textContent = "Well done.";
          if (!now().done.includes(it.variant)) { now().done.push(it.variant); write(); }
          return;
        }
        left += it.beats[at].seconds;
      }
      const beat = it.beats[at], whole = Math.ceil(Math.max(0, left));
      clock.replaceChildren(make("b", { textContent: whole }), beat.say);
      img.classList.toggle("mirrored", Boolean(beat.side && it.shown && beat.side !== it.shown));
      if (!still && it.film.length > 1) {
        const n = it.film.length;
        if (beat.moving) img.src = it.film[Math.floor((beat.seconds - left) / beat.seconds * n) % n];
        else if (beat.say.startsWith("hold") || beat.say.startsWith("stay")) img.src = it.film[Math.floor(n / 2)];
      }
      frame = requestAnimationFrame(tick);
    };
    start.addEventListener("click", () => {
      if (running === stop) { stop(); return; }
      if (running) running();
      running = stop; start.textContent = "Stop"; at = 0; left = it.beats[0].seconds; last = performance.now();
      frame = requestAnimationFrame(tick);
    });
    const section = make("section", { className: "card" }, make("h2", { textContent: (letter ? letter + ". " : "") + it.name }), img,
      make("p", { className: "dose", textContent: it.dose }), make("p", { className: "set-up", textContent: it.set_up }), make("p", {}, make("strong", { textContent: it.remember })));
    if (it.care) section.append(make("p", { className: "care", textContent: it.care }));
    if (it.breath) section.append(make("p", { className: "small", textContent: it.breath }));
    section.append(clock, make("div", { className: "keys" }, start, done));
    cards.push({ it, done });
    return section;
  };
  data.items.forEach((it, i) => $("cards").append(card(it, "ABCDEF"[i])));
  if (data.micro.length) {
    $("cards").append(make("h2", { textContent: "Through the day" }));
    for (const it of data.micro) $("cards").append(card(it, ""));
  }

  for (let n = 0; n <= 10; n++) {
    const b = make("button", { type: "button", textContent: n });
    b.addEventListener("click", () => { const e = now(); if (e.pain === n) delete e.pain; else e.pain = n; write(); });
    $("pain").append(b);
  }
  for (const p of data.places) $("where").append(make("option", { value: p, textContent: p.replaceAll("_", " ") }));
  $("sore").addEventListener("change", () => { if ($("sore").checked) now().sore = true; else delete now().sore; write(); });
  $("where").addEventListener("change", () => { if ($("where").value) now().where = $("where").value; else delete now().where; write(); });
  $("note").addEventListener("change", () => { if ($("note").value) now().note = $("note").value; else delete now().note; write(); });

  const show = () => {
    const e = diary[today()] || { done: [] };
    for (const c of cards) c.done.setAttribute("aria-pressed", e.done.includes(c.it.variant));
    [...$("pain").children].forEach((b, n) => b.setAttribute("aria-pressed", e.pain === n));
    $("sore").checked = !!e.sore; $("where").value = e.where || ""; if (document.activeElement !== $("note")) $("note").value = e.note || "";
    $("code").textContent = code() || "nothing noted yet";
    $("save").disabled = !entries().length;
    $("kept").textContent = keeps ? "" : "This browser keeps nothing for this page: save the diary as a file before you close it.";
  };
  $("save").addEventListener("click", () => {
    const doc = JSON.stringify({ format: "restbend.diary/1", home: data.home, entries: entries() }, null, 1);
    const a = make("a", { href: URL.createObjectURL(new Blob([doc], { type: "application/json" })), download: "diary-" + today() + ".json" });
    a.click(); setTimeout(() => URL.revokeObjectURL(a.href), 10000);
  });
  let sure = false;
  $("clear").addEventListener("click", () => {
    if (!sure) { sure = true; $("clear").textContent = "Press again to take away all that was noted"; setTimeout(() => { sure = false; $("clear").textContent = "Begin the diary anew"; }, 5000); return; }
    diary = {}; write(); sure = false; $("clear").textContent = "Begin the diary anew";
  });
  read(); show();
})();
