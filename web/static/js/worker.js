"use strict";
// Keeps what a lesson needs, so that it goes on and can be wrapped up without a
// connection. Drawings, scripts and styles never change under their address; a lesson is
// asked for first and taken from here when nobody answers.
const cacheName = "restbend-HASH";
const fixed = (p) => p.startsWith("/static/") || p.startsWith("/figures/");
const lesson = (p) => /^\/plans\/[^/]+\/(teach|wrap-up|lesson|screen)$/.test(p) || /^\/plans\/[^/]+\/film\//.test(p);
self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (e) => e.waitUntil((async () => {
  for (const name of await caches.keys()) if (name.startsWith("restbend-") && name !== cacheName) await caches.delete(name);
  await self.clients.claim();
})()));
async function keep(request, answer) {
  if (answer.ok && !answer.redirected) await (await caches.open(cacheName)).put(request, answer.clone());
  return answer;
}
self.addEventListener("message", (e) => {
  if (e.data?.forget) e.waitUntil((async () => { // what is taught is no longer needed here
    const cache = await caches.open(cacheName);
    for (const r of await cache.keys()) if (new URL(r.url).pathname.startsWith("/plans/" + e.data.forget + "/")) await cache.delete(r);
  })());
  if (!e.data?.keep) return;
  e.waitUntil((async () => {
    const cache = await caches.open(cacheName);
    for (const url of e.data.keep) {
      try { if (!fixed(url) || !(await cache.match(url))) await keep(url, await fetch(url)); } catch { /* another time */ }
    }
  })());
});
self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== location.origin) return;
  const path = url.pathname;
  if (fixed(path)) {
    e.respondWith((async () => (await caches.match(e.request)) || keep(e.request, await fetch(e.request)))());
  } else if (lesson(path)) {
    e.respondWith((async () => {
      try { return await keep(e.request, await fetch(e.request)); }
      catch (broken) {
        const kept = await caches.match(e.request, { ignoreVary: true });
        if (kept) return kept;
        if (e.request.mode === "navigate") return away();
        throw broken;
      }
    })());
  } else if (e.request.mode === "navigate") {
    e.respondWith(fetch(e.request).catch(away));
  }
});
function away() {
  return new Response(`<!doctype html><html lang="en-GB"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>No connection · Rest Bend</title>
<main><h1>No connection to Rest Bend</h1><p>What was marked in this browser is kept, and is sent when the connection is back. Nothing is lost.</p><p><a href="">Try again</a></p></main></html>`,
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8", "Content-Security-Policy": "default-src 'none'" } });
}
