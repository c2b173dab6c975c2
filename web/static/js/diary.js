"use strict";
// The file that came back is read here and looked at before anything is sent.
document.getElementById("diary-file").addEventListener("change", async event => {
  const file = event.target.files[0];
  if (file) document.getElementById("diary").value = await file.text();
});
