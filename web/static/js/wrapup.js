"use strict";
// Saves the record; without a connection the wrap-up is kept in this browser and sent when
// there is one again.
(() => {
  const form = document.querySelector("form[data-plan]");
  const kept = document.getElementById("wrap-kept");
  const forget = () => { try { for (const of of ["lesson.", "note."]) localStorage.removeItem("restbend." + of + form.dataset.plan); } catch { /* not kept anyway */ } navigator.serviceWorker?.controller?.postMessage({ forget: form.dataset.plan }); };
  let touched = false;
  for (const kind of ["input", "change", "submit"]) form.addEventListener(kind, () => { touched = true; }, { capture: true });
  // Marks that are on their way are waited for, and shown, unless something was typed by then.
  (async () => { if (await Outbox.waiting()) { await Outbox.flush(); if (!(await Outbox.waiting()) && !touched) { location.reload(); return; }
    if (await Outbox.waiting()) { kept.textContent = "Some marks of this lesson are not sent yet, so they are not shown here. They count all the same."; kept.hidden = false; } } form.dataset.ready = "yes"; })();
  form.addEventListener("submit", async (e) => {
    e.preventDefault();
    const said = new URLSearchParams(new FormData(form));
    await Outbox.flush();
    try {
      const answer = await fetch(form.action, { method: "POST", body: said, redirect: "follow", headers: { "Content-Type": "application/x-www-form-urlencoded" } });
      if (answer.ok) { await Outbox.sent(said.get("key")); forget(); form.dispatchEvent(new Event("restbend:sent")); location.href = answer.url; return; }
      const page = new DOMParser().parseFromString(await answer.text(), "text/html");
      document.querySelector("main").replaceWith(document.adoptNode(page.querySelector("main")));
      document.querySelector("main .refusal")?.scrollIntoView();
      const again = document.createElement("script"); again.src = document.querySelector('script[src$="wrapup.js"]').src; document.body.append(again);
    } catch {
      await Outbox.form(form.getAttribute("action"), said); form.dispatchEvent(new Event("restbend:sent"));
      kept.textContent = "There is no connection. The wrap-up is kept in this browser and is sent as soon as there is one; you can close this page.";
      kept.hidden = false; kept.scrollIntoView();
    }
  });
})();
