"use strict";
// A list is one stop for Tab: arrows, Home and End go through it, up and down to what lies
// above and below; letters press what carries them. What has changed on a page is said aloud and
// gets the focus.
(() => {
  const lists = () => document.querySelectorAll("[data-arrows]");
  const items = (list) => [...list.querySelectorAll(list.dataset.arrows)].filter((e) => e.checkVisibility());
  const stop = (list, at) => { for (const e of list.querySelectorAll(list.dataset.arrows)) e.tabIndex = e === at ? 0 : -1; };
  const prepare = () => {
    for (const list of lists()) {
      const all = items(list), now = all.find((e) => e === document.activeElement) || all.find((e) => e.hasAttribute("aria-current")) || all[0];
      if (all.length > 1) stop(list, now);
    }
  };
  const beside = (all, from, key) => {
    const at = all.indexOf(from), step = { ArrowRight: 1, ArrowLeft: -1 }[key];
    if (step) return all[at + step];
    const a = from.getBoundingClientRect(), way = key === "ArrowDown" ? 1 : -1;
    let best = null, least = Infinity;
    for (const e of all) {
      const b = e.getBoundingClientRect(), down = way * ((b.top + b.bottom) - (a.top + a.bottom)) / 2;
      if (e === from || down < Math.min(a.height, b.height) / 2) continue;
      const far = down + 2 * Math.abs(b.left - a.left);
      if (far < least) { least = far; best = e; }
    }
    return best;
  };
  document.addEventListener("keydown", (e) => {
    const list = e.target.closest?.("[data-arrows]");
    if (!list || "own" in list.dataset || e.altKey || e.ctrlKey || e.metaKey || !e.target.matches(list.dataset.arrows)) return;
    const all = items(list);
    const to = e.key === "Home" ? all[0] : e.key === "End" ? all.at(-1) : e.key.startsWith("Arrow") ? beside(all, e.target, e.key) : null;
    if (!to) return;
    e.preventDefault(); e.stopPropagation();
    stop(list, to); to.focus();
  }, true);
  // A letter presses what carries it, for whoever has not switched letters off.
  document.addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented || e.key.length === 1 && "noLetters" in document.documentElement.dataset || e.target.closest("input, select, textarea, summary, dialog, [contenteditable]")) return;
    const button = document.querySelector(`main [data-key="${CSS.escape(e.key)}"]`);
    if (button && !button.disabled) { e.preventDefault(); button.click(); }
  });
  // A long form is gone through by its parts.
  document.addEventListener("keydown", (e) => {
    const way = { PageDown: 1, PageUp: -1 }[e.key];
    if (!way || !e.altKey) return;
    const parts = [...document.querySelectorAll("main form > fieldset, main form > section")].filter((p) => p.checkVisibility());
    const here = parts.findIndex((p) => p.contains(document.activeElement));
    const to = parts[here < 0 && way < 0 ? parts.length - 1 : here + way];
    const field = to && [...to.querySelectorAll("summary, input:not([type=hidden]), select, textarea, button")].find((f) => f.checkVisibility() && !f.disabled);
    if (field) { e.preventDefault(); field.focus(); if (field.type !== "checkbox") field.select?.(); }
  });
  document.addEventListener("focusin", (e) => { const list = e.target.closest?.("[data-arrows]"); if (list && e.target.matches(list.dataset.arrows)) stop(list, e.target); });
  prepare();
  // What was done a moment ago, and how to take it back.
  const kept = document.cookie.match(/(?:^|; )flash=([^;]*)/);
  if (kept) {
    document.cookie = "flash=; Path=/; Max-Age=0; SameSite=Strict";
    try {
      const done = JSON.parse(decodeURIComponent(kept[1].replaceAll("+", " ")));
      const line = document.createElement("div"), words = document.createElement("span"), away = document.createElement("button");
      line.className = "said-line"; line.setAttribute("role", "status"); line.append(words);
      if (done.undo) {
        const form = document.createElement("form"), take = document.createElement("button");
        form.method = "post"; form.action = done.undo; take.textContent = "Take it back"; take.className = "tongue-line";
        for (const [name, value] of [["version", done.at], ["to", location.pathname]]) { const f = document.createElement("input"); f.type = "hidden"; f.name = name; f.value = value; form.append(f); }
        form.append(take); line.append(form);
      }
      away.type = "button"; away.className = "said-away"; away.setAttribute("aria-label", "Put this line away"); away.textContent = "×"; away.onclick = () => line.remove(); line.append(away);
      document.body.append(line);
      setTimeout(() => { words.textContent = done.text; }, 60); // so that it is heard
      if (!done.undo) setTimeout(() => line.remove(), 6000);
    } catch { /* it was not ours */ }
  }
  // What takes seconds says so at once.
  document.addEventListener("click", (e) => {
    const slow = e.target.closest("a[data-slow]");
    if (!slow || e.ctrlKey || e.metaKey || e.shiftKey || e.defaultPrevented) return;
    slow.dataset.was = slow.textContent;
    slow.textContent = document.getElementById("aloud").textContent = slow.dataset.slow;
  });
  addEventListener("pageshow", () => { for (const slow of document.querySelectorAll("a[data-slow][data-was]")) slow.textContent = slow.dataset.was; });
  document.addEventListener("htmx:after:swap", () => {
    prepare();
    const say = document.querySelector("[data-said]")?.dataset.said || "", aloud = document.getElementById("aloud");
    if (aloud.dataset.last !== say) aloud.textContent = aloud.dataset.last = say;
  });
})();
