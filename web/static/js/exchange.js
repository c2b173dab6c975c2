"use strict";
// A file is sent to be looked at; it can be stopped on the way, and is taken only when the
// page that shows it says so.
(() => {
  const said = document.getElementById("in-said"), drop = document.getElementById("drop"), input = document.getElementById("in-file");
  let sending = null;
  const send = file => {
    if (!file) return;
    if (sending) sending.abort();
    const x = sending = new XMLHttpRequest();
    const stop = Object.assign(document.createElement("button"), { type: "button", className: "tongue-line", textContent: "Stop" });
    stop.addEventListener("click", () => x.abort());
    const words = document.createTextNode("Reading " + file.name + " … ");
    said.replaceChildren(words, stop);
    x.upload.addEventListener("progress", e => { if (e.lengthComputable) words.textContent = "Reading " + file.name + ", " + Math.round(100 * e.loaded / e.total) + "% … "; });
    x.addEventListener("load", () => {
      let answer = {};
      try { answer = JSON.parse(x.responseText); } catch { /* said below */ }
      if (answer.at) location.href = answer.at;
      else said.textContent = answer.error || "It could not be read. Nothing was taken.";
    });
    x.addEventListener("abort", () => { said.textContent = "Stopped. Nothing was taken."; });
    x.addEventListener("error", () => { said.textContent = "There is no connection. Nothing was taken."; });
    x.open("POST", "/exchange/uploads?name=" + encodeURIComponent(file.name));
    x.setRequestHeader("Content-Type", "application/octet-stream");
    x.send(file);
  };
  input.addEventListener("change", () => send(input.files[0]));
  for (const kind of ["dragover", "drop"]) drop.addEventListener(kind, e => { e.preventDefault(); if (kind === "drop") send(e.dataTransfer.files[0]); });
})();
