// The key / opens the search from anywhere, arrows go through what is found; ? opens the help.
(() => {
  const box = document.getElementById("find");
  if (!box) return;
  const input = box.querySelector("input"), list = box.querySelector(".find-hits");
  const open = () => { box.showModal(); input.select(); };
  document.querySelector("a[data-find]")?.addEventListener("click", (e) => { e.preventDefault(); open(); });
  addEventListener("keydown", (e) => {
    if (e.key === "/" && !e.ctrlKey && !e.metaKey && !e.altKey && !("noLetters" in document.documentElement.dataset) && !e.target.closest("input, textarea, select, [contenteditable]")) { e.preventDefault(); open(); }
  });
  box.addEventListener("keydown", (e) => {
    if (e.key !== "ArrowDown" && e.key !== "ArrowUp") return;
    const links = [...list.querySelectorAll("a")], at = links.indexOf(document.activeElement);
    const to = at + (e.key === "ArrowDown" ? 1 : -1);
    e.preventDefault();
    (to < 0 ? input : links[Math.min(to, links.length - 1)])?.focus();
  });
  box.querySelector("form").addEventListener("submit", async (e) => {
    const words = input.value.trim();
    e.preventDefault();
    if (list.querySelector("[data-q]")?.dataset.q !== words) { // what stands there answers fewer letters
      try { list.innerHTML = await (await fetch("/search?" + new URLSearchParams({ q: words }), { headers: { "HX-Request": "true" } })).text(); } catch { return; }
    }
    const first = list.querySelector("a");
    if (first) first.click(); else input.focus();
  });
  box.addEventListener("click", (e) => { if (e.target === box) box.close(); });
})();
(() => {
  const box = document.getElementById("help"), link = document.querySelector("a[data-help]");
  if (!box || !link) return;
  const open = async () => {
    try {
      const answer = await fetch(link.href, { headers: { "HX-Request": "true" } });
      if (!answer.ok) throw answer;
      document.getElementById("help-said").innerHTML = await answer.text();
      box.showModal();
    } catch { location.href = link.href; }
  };
  link.addEventListener("click", (e) => { e.preventDefault(); link.closest("details").open = false; open(); });
  addEventListener("keydown", (e) => {
    if (e.key === "?" && !e.ctrlKey && !e.metaKey && !e.altKey && !("noLetters" in document.documentElement.dataset) && !e.target.closest("input, textarea, select, [contenteditable]")) { e.preventDefault(); open(); }
  });
  box.addEventListener("click", (e) => { if (e.target === box) box.close(); });
})();
