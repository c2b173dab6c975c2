"use strict";
// Plays the movement of an exercise at the real tempo or at half of it, from
// stills that the server has drawn. With reduced motion asked for, nothing moves
// until a button is pressed.
(() => {
  const figure = document.getElementById("x-figure");
  const keys = { 0: document.getElementById("x-still"), 0.5: document.getElementById("x-half"), 1: document.getElementById("x-full") };
  const bars = [...document.querySelectorAll(".phase")];
  let stills = null, speed = 0, started = 0;

  async function load() {
    if (stills) return true;
    try {
      const answer = await fetch(figure.dataset.film);
      const list = await answer.json();
      await Promise.all(list.map((s) => { const im = new Image(); im.src = s.url; return im.decode(); }));
      stills = list.length > 1 ? list : null;
    } catch { /* the still stays */ }
    return !!stills;
  }
  function frame(now) {
    if (!speed || !stills) return;
    const length = stills[stills.length - 1].at;
    const t = ((now - started) / 1000 * speed) % length;
    let i = stills.findIndex((s) => s.at > t);
    if (i < 0) i = stills.length;
    const url = stills[Math.max(0, i - 1)].url;
    if (figure.getAttribute("src") !== url) figure.src = url;
    let from = 0;
    for (const bar of bars) {
      const seconds = parseFloat(bar.querySelector("strong").textContent.match(/([\d.]+) s$/)[1]);
      bar.classList.toggle("is-on", t >= from && t < from + seconds);
      from += seconds;
    }
    requestAnimationFrame(frame);
  }
  async function play(at) {
    for (const [k, button] of Object.entries(keys)) button.setAttribute("aria-pressed", String(Number(k) === at));
    if (at && !(await load())) at = 0;
    const moving = speed > 0;
    speed = at;
    if (!at) { figure.src = figure.dataset.still; bars.forEach((b) => b.classList.remove("is-on")); return; }
    if (!moving) { started = performance.now(); requestAnimationFrame(frame); }
  }
  for (const [k, button] of Object.entries(keys)) button.addEventListener("click", () => play(Number(k)));
  document.getElementById("x-client").addEventListener("change", (e) => e.target.form.submit());
  const rung = document.querySelector(".rung.is-now"), ladder = rung?.closest(".scroll");
  if (ladder) ladder.scrollLeft = rung.offsetLeft - ladder.clientWidth / 2 + rung.offsetWidth / 2;
  if (!matchMedia("(prefers-reduced-motion: reduce)").matches) play(1);
})();
