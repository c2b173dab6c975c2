"use strict";
// What the client sees: figure, count and breath, following the lesson.
(() => {
  const $ = (id) => document.getElementById(id);
  let lesson = JSON.parse($("lesson").textContent), state = { beat: 0, spent: 0, running: false, swap: "" }, got = performance.now();
  let facing = false; // the client wants it as in a mirror
  const reel = filmReel(lesson.plan, () => {});
  function show() {
    const spent = state.spent + (state.running ? (performance.now() - got) / 1000 : 0);
    let i = state.beat, left = spent;
    while (i + 1 < lesson.beats.length && left >= lesson.beats[i].seconds) { left -= lesson.beats[i].seconds; i++; }
    const b = lesson.beats[i], it = lesson.items[b.item], c = countOf(b, it, left);
    $("t-count").textContent = c.count; $("t-of").textContent = c.of; $("t-unit").textContent = c.unit;
    const side = !b.side ? "" : state.swap === b.id ? (b.side === "left" ? "right" : "left") : b.side;
    $("t-side").hidden = !side; $("t-side").className = "t-side is-" + side; $("t-side").textContent = side;
    drawPacer($("t-pacer"), b, left);
    $("t-figure").classList.toggle("is-mirrored", mirrors(it, side) !== facing);
    reel.fetch(b.item, it.variant, "light");
    const film = b.kind === "work" && b.unit !== "holds" ? reel.of(b.item, it.variant, "light") : null;
    const url = film ? stillAt(film, b, left) : it.figures.Light[b.kind === "work" ? "show" : "start"];
    if ($("t-figure").getAttribute("src") !== url) { $("t-figure").src = url; $("t-figure").alt = it.name; }
    requestAnimationFrame(show);
  }
  const live = new EventSource(`/plans/${lesson.plan}/follow`);
  live.addEventListener("state", async (e) => {
    const says = JSON.parse(e.data);
    if (lesson.items[lesson.beats[says.beat]?.item]?.variant !== says.variant) { try { lesson = await (await fetch(`/plans/${lesson.plan}/lesson`)).json(); } catch { return; } }
    state = says; got = performance.now();
    $("s-state").textContent = state.running ? "" : "Pause.";
  });
  live.onerror = () => { $("s-state").textContent = "The lesson is not heard just now."; };
  $("s-mirror").onclick = () => { facing = !facing; $("s-mirror").setAttribute("aria-pressed", facing); };
  show();
})();
