"use strict";
// What was made in this browser goes to its own store first and to the server until it
// is acknowledged, once each. Where the browser keeps nothing (a private window) it is
// held as long as the page is open.
const Outbox = (() => {
  const opened = idb.openDB("restbend", 1, { upgrade(db) { db.createObjectStore("marks", { keyPath: "id" }); db.createObjectStore("forms", { keyPath: "key" }); } }).catch(() => null);
  const held = { marks: new Map(), forms: new Map() };
  const page = crypto.randomUUID();
  let sending = null, again = false, wait = 1000, timer = 0;
  const listeners = [];
  // What was tapped a moment before the page goes is written at once, and taken out again when the store has it.
  const ahead = "restbend.ahead.";
  try {
    for (const k of Object.keys(localStorage)) if (k.startsWith(ahead)) { const v = JSON.parse(localStorage.getItem(k)); held.marks.set(v.id, v); }
  } catch { /* a private window */ }
  const keyOf = (store, v) => (store === "marks" ? v.id : v.key);
  async function put(store, v) { held[store].set(keyOf(store, v), v); const db = await opened; if (db) await db.put(store, v).catch(() => {}); }
  async function drop(store, key) { held[store].delete(key); try { localStorage.removeItem(ahead + key); } catch { /* was not there */ } const db = await opened; if (db) await db.delete(store, key).catch(() => {}); }
  async function all(store) {
    const db = await opened;
    for (const v of db ? await db.getAll(store).catch(() => []) : []) if (!held[store].has(keyOf(store, v))) held[store].set(keyOf(store, v), v);
    return [...held[store].values()];
  }
  const tell = async () => {
    const marks = await all("marks"), forms = await all("forms");
    const waiting = marks.filter((m) => !m.refused).length, refused = marks.find((m) => m.refused)?.refused || forms.find((f) => f.refused)?.refused || "";
    const state = { marks: waiting, forms: forms.filter((f) => !f.refused).length, refused };
    for (const l of listeners) l(state);
    const line = document.getElementById("unsent");
    if (!line) return;
    const words = [];
    if (state.forms) words.push(state.forms === 1 ? "a wrap-up" : state.forms + " wrap-ups");
    if (state.marks) words.push(state.marks === 1 ? "one mark" : state.marks + " marks");
    line.textContent = (words.length ? words.join(" and ") + " not sent yet: kept in this browser, and sent when there is a connection. " : "") + (refused ? "Not taken: " + refused : "");
    line.hidden = !line.textContent || (!refused && wait < 4000);
  };
  async function post(url, body, type) {
    return fetch(url, { method: "POST", body, headers: { "Content-Type": type, "X-Page": page }, redirect: "follow" });
  }
  async function sendMarks() {
    const plans = {};
    for (const m of await all("marks")) if (!m.refused) (plans[m.plan] ||= []).push(m);
    for (const [plan, marks] of Object.entries(plans)) {
      for (let i = 0; i < marks.length; i += 200) {
        const part = marks.slice(i, i + 200);
        const answer = await post(`/plans/${plan}/marks`, JSON.stringify({ marks: part.map((m) => m.mark) }), "application/json");
        if (answer.status >= 500) throw new Error("later");
        const says = await answer.json();
        for (const id of says.kept || []) await drop("marks", id);
        for (const r of says.refused || []) { const m = part[r.index]; if (m) await put("marks", { ...m, refused: `${m.mark.kind}, ${r.field}: ${r.want}` }); }
        if (!says.kept && answer.status >= 400) for (const m of part) await put("marks", { ...m, refused: says.error || "not taken" });
      }
    }
  }
  async function sendForms() {
    for (const f of await all("forms")) {
      if (f.refused) continue;
      const answer = await post(f.url, f.body, "application/x-www-form-urlencoded");
      if (answer.status >= 500) throw new Error("later");
      if (answer.ok) await drop("forms", f.key);
      else await put("forms", { ...f, refused: "the wrap-up needs another look; open it again" });
    }
  }
  function flush() {
    if (sending) { again = true; return sending; }
    sending = (async () => {
      try {
        do { again = false; await sendMarks(); await sendForms(); } while (again);
        wait = 1000;
      } catch { wait = Math.min(30000, wait * 2); clearTimeout(timer); timer = setTimeout(flush, wait); }
      sending = null;
      await tell();
    })();
    return sending;
  }
  addEventListener("online", () => { wait = 1000; flush(); });
  return {
    page, flush, listen(l) { listeners.push(l); },
    async mark(plan, mark) {
      const v = { id: mark.id, plan, mark };
      try { localStorage.setItem(ahead + v.id, JSON.stringify(v)); } catch { /* a private window */ }
      await put("marks", v); flush();
    },
    async form(url, params) { await put("forms", { key: params.get("key"), url, body: params.toString() }); await tell(); },
    async sent(key) { await drop("forms", key); },
    async marksOf(plan) { return (await all("marks")).filter((m) => m.plan === plan).map((m) => m.mark); },
    async waiting() { return (await all("marks")).filter((m) => !m.refused).length + (await all("forms")).filter((f) => !f.refused).length; },
  };
})();
Outbox.flush();
// Signing out makes the browser forget what it holds, also marks that are not sent yet.
document.getElementById("sign-out")?.addEventListener("submit", async (event) => {
  const form = event.currentTarget;
  if (form.dataset.sure) return;
  event.preventDefault();
  const n = await Outbox.waiting();
  form.dataset.sure = "yes";
  if (!n) { form.submit(); return; }
  const said = document.getElementById("unsent");
  said.hidden = false;
  said.textContent = `${n} ${n === 1 ? "mark is" : "marks are"} not sent yet and would be lost. Wait for the connection, or sign out once more to lose ${n === 1 ? "it" : "them"}.`;
});
// For lessons alone: elsewhere it would only stand in the way of a last word on leaving.
if ("serviceWorker" in navigator) navigator.serviceWorker.register("/worker.js", { scope: "/plans/" }).catch(() => { /* works without, as long as there is a connection */ });
