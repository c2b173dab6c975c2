"use strict";
// What was typed into a form and not sent is kept in this browser for half a day, and is
// there again when the page is opened anew. Signing out clears it, and so does sending.
(() => {
  const kept = 12 * 3600e3, me = document.body.dataset.me || "", here = location.pathname;
  const nav = performance.getEntriesByType("navigation")[0] || {};
  const store = { // a browser that keeps nothing only loses the help
    get: (k) => { try { return JSON.parse(localStorage.getItem(k)); } catch { return null; } },
    set: (k, v) => { try { localStorage.setItem(k, JSON.stringify(v)); } catch { /* full or shut */ } },
    drop: (k) => { try { localStorage.removeItem(k); } catch { /* nothing is kept */ } },
  };
  try { // what is too old goes
    for (const k of Object.keys(localStorage)) if (k.startsWith("restbend.draft ") && !(Date.now() - (store.get(k)?.at || 0) < kept)) store.drop(k);
  } catch { return; }
  const sent = sessionStorage.getItem("restbend.sent");
  if (sent && nav.type === "navigate" && nav.redirectCount > 0 && (nav.responseStatus || 200) < 400) { store.drop(sent); sessionStorage.removeItem("restbend.sent"); }
  const fields = (form) => [...form.elements].filter((f) => f.name && !["hidden", "file", "submit", "button", "password"].includes(f.type));
  const said = (form) => { // what stands in it, by name
    const out = {};
    for (const f of fields(form)) {
      if ((f.type === "checkbox" || f.type === "radio") && !f.checked) continue;
      (out[f.name] ||= []).push(f.value);
    }
    return out;
  };
  const put = (form, values) => {
    for (const f of fields(form)) {
      const v = values[f.name] || [];
      if (f.type === "checkbox" || f.type === "radio") f.checked = v.includes(f.value);
      else if (v.length === 1) f.value = v[0];
    }
  };
  const ago = (at) => { const m = Math.round((Date.now() - at) / 60000); return m < 1 ? "a moment ago" : m < 60 ? `${m} minute${m === 1 ? "" : "s"} ago` : `about ${Math.round(m / 60)} hour${m < 90 ? "" : "s"} ago`; };
  const met = {};
  for (const form of document.querySelectorAll('main form[method="post"]:not([hx-post], [data-keep], [data-undrafted])')) {
    if (form.querySelector("input[type=password]") || !fields(form).length) continue;
    const action = form.getAttribute("action") || here, n = met[action] = (met[action] || 0) + 1, key = `restbend.draft ${me} ${here} ${action} ${n}`;
    const first = JSON.stringify(said(form)), draft = store.get(key);
    const refused = (nav.responseStatus || 200) >= 400;
    if (draft && !refused && JSON.stringify(draft.values) !== first) {
      put(form, draft.values);
      form.closest("details")?.setAttribute("open", "");
      const line = document.createElement("p"), drop = document.createElement("button");
      line.className = "draft-said"; line.setAttribute("role", "status"); line.append(`What you typed here ${ago(draft.at)} was not sent, and is back. `);
      drop.type = "button"; drop.className = "tongue-line"; drop.textContent = "Forget it"; line.append(drop); form.prepend(line);
      drop.onclick = () => { store.drop(key); put(form, JSON.parse(first)); line.remove(); tell(); (fields(form)[0] || form).focus(); };
      tell();
    }
    function tell() { for (const f of fields(form)) if (f.type !== "radio" || f.checked) f.dispatchEvent(new Event("change", { bubbles: true })); }
    let wait = 0, gone = false;
    const keep = () => { if (gone) return; const now = said(form); if (JSON.stringify(now) === first) store.drop(key); else store.set(key, { at: Date.now(), values: now }); };
    for (const kind of ["input", "change"]) form.addEventListener(kind, () => { clearTimeout(wait); wait = setTimeout(keep, 250); });
    addEventListener("pagehide", () => { if (wait) keep(); });
    form.addEventListener("submit", () => { keep(); sessionStorage.setItem("restbend.sent", key); });
    form.addEventListener("restbend:sent", () => { gone = true; store.drop(key); });
  }
})();
