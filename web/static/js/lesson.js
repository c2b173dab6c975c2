"use strict";
// Turns a lesson into beats: stretches of time, one after the other, each with
// what is counted, on which side, and whether it is work, rest or a change.
function beatsOf(lesson) {
  const beats = [];
  lesson.items.forEach((item, i) => {
    const sides = item.sides.length ? item.sides : [""];
    beats.push({ item: i, kind: "change", seconds: item.change, side: sides[0], set: 0, label: "get ready" });
    sides.forEach((side, s) => {
      if (s > 0 && item.kind === "alternating_seconds") return; // both took turns in one stretch
      const part = item.parts[s]; // the sides may differ
      part.sets.forEach((count, set) => {
        const turns = s > 0 && set === 0, pause = turns ? item.turn : set > 0 ? item.rest : 0;
        if (pause > 0) beats.push({ item: i, kind: "rest", seconds: pause, side, set, label: turns ? "change sides" : "rest" });
        const one = { item: i, kind: "work", side, set, sets: part.sets.length };
        if (item.kind === "breaths" || item.kind === "hold_breaths") {
          const total = part.breaths + (item.kind === "hold_breaths" ? 1 : 0);
          for (let n = 1; n <= total; n++) beats.push({ ...one, seconds: lesson.breath, n, of: total, unit: "breaths" });
        } else if (item.kind === "hold_seconds") {
          for (let n = 1; n <= count; n++) beats.push({ ...one, seconds: part.holds?.length ? part.holds[Math.min(n, part.holds.length) - 1] : part.seconds, n, of: count, unit: "holds" });
        } else if (item.kind === "alternating_seconds") {
          beats.push({ ...one, seconds: part.seconds, n: 1, of: 1, unit: "seconds" });
        } else {
          for (let n = 1; n <= count; n++) beats.push({ ...one, seconds: part.seconds, n, of: count, unit: "repetitions" });
        }
      });
    });
    if (item.kind === "hold_breaths") beats.push({ item: i, kind: "rest", seconds: lesson.breath, side: "", set: 0, label: "one reset breath" });
    if (item.end > 0) beats.push({ item: i, kind: "change", seconds: item.end, side: "", set: 0, label: "come up slowly, by the side" });
  });
  let at = 0;
  for (const b of beats) { b.at = at; at += b.seconds; }
  return { beats, total: at };
}

// breathAt says which way the breath goes at a moment of a repetition.
function breathAt(steps, seconds) {
  let t = 0;
  for (const s of steps) {
    t += s.seconds;
    if (seconds < t) return s.breath;
  }
  return steps.length ? steps[steps.length - 1].breath : "free";
}
