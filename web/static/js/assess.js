"use strict";
// What marks of a lesson allow, by the same rules as the server's (core/readiness): what hurts
// over the line is over, what loads that part is barred, the back and a nerve make the rest
// gentle, and a warning sign or too much ends it. It holds without a connection.
function assessMarks(lesson, marks) {
  const rules = lesson.rules, stands = new Map(), worst = {}, bars = new Set(), over = new Set();
  let gentle = false, ended = "", warned = false;
  for (const m of marks) if (m.kind !== "corrected") stands.set(m.id, { ...m });
  for (const m of marks) {
    if (m.kind !== "corrected" || !stands.has(m.of)) continue;
    if (m.void) stands.delete(m.of); else Object.assign(stands.get(m.of), m.values);
  }
  for (const m of stands.values()) {
    if (m.kind === "warning") { warned = true; ended = "Warning sign: " + (lesson.flags.find((f) => f.Value === m.flag)?.Words || m.flag); }
    const kind = rules.kinds[m.where] || "back";
    if (m.kind === "tingling" && (!m.where || kind === "limb")) gentle = true;
    if (m.kind !== "pain" || !(m.score >= rules.over)) continue;
    over.add(m.item);
    worst[m.where || ""] = Math.max(worst[m.where || ""] || 0, m.score);
    if (m.where) bars.add(m.where);
    if (kind !== "limb") gentle = true;
    if (kind === "alarm") ended ||= "Pain in the " + m.where + " that does not pass at rest at once: ring the emergency number now.";
  }
  const worse = Object.keys(worst).filter((w) => worst[w] >= rules.stop);
  if (worse.length > 1 || worse.some((w) => (rules.kinds[w] || "back") !== "limb")) ended ||= "Pain of " + Math.max(...worse.map((w) => worst[w])) + ": the lesson ends here.";
  return { ended, warned, stands, clear: !ended && !gentle && !bars.size && !over.size, barred: (it) => over.has(it.id) || it.loads.some((w) => bars.has(w)) || (gentle && !it.gentle) };
}
