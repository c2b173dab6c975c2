// A page that nobody has touched for a while is covered, and its session locked, until the
// short code or the password opens it. What was typed stays under the cover.
(() => {
  const minutes = () => Number(document.body.dataset.idle);
  if (!minutes()) return;
  const cover = document.getElementById("cover"), form = cover.querySelector("form"), said = cover.querySelector("[role=status]");
  const behind = () => [...document.body.children].filter((e) => e !== cover);
  let timer;
  const wait = () => { clearTimeout(timer); timer = setTimeout(lock, minutes() * 60000); };
  function lock() {
    fetch("/lock", { method: "POST", redirect: "manual" }).catch(() => { /* without a connection the cover alone stands */ });
    cover.hidden = false;
    for (const e of behind()) e.inert = true;
    document.body.classList.add("is-covered");
    form.code.value = ""; form.code.focus();
  }
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    let answer;
    try { answer = await fetch("/unlock", { method: "POST", body: new URLSearchParams(new FormData(form)), redirect: "manual" }); } catch { said.textContent = "There is no connection just now."; return; }
    if (answer.type !== "opaqueredirect") {
      form.code.value = ""; form.code.focus();
      said.textContent = "That is neither your short code nor your password.";
      if ((await answer.text()).includes("/sign-in")) location.reload();
      return;
    }
    said.textContent = ""; cover.hidden = true;
    for (const e of behind()) e.inert = false;
    document.body.classList.remove("is-covered");
    wait();
  });
  for (const what of ["pointerdown", "pointermove", "keydown", "scroll", "touchstart"]) addEventListener(what, () => { if (cover.hidden) wait(); }, { passive: true });
  wait();
})();
