"use strict";
// Simulated devices, behind one small interface: open(kind) gives a device with
// sample(seconds) → a value or null when it is unplugged, and set(name, value) for the page
// that drives it. A real device would offer the same.
const Devices = (() => {
  const noise = (t, k) => Math.sin(t * 12.9898 * k) * 0.5 + Math.sin(t * 78.233 * k + 1) * 0.5;
  const kinds = {
    cuff: {
      words: "Pressure cuff under the low back", unit: "mmHg", low: 36, high: 44, faults: { drift: "neutral is lost", leak: "it leaks", unplug: "unplugged" },
      at: (t, s, breath) => s.unplug ? null : 40 + 1.2 * Math.sin(2 * Math.PI * t / breath) + 0.3 * noise(t, 1) + (s.drift ? 9 : 0) - (s.leak ? Math.min(30, 0.8 * (t - s.leak)) : 0),
    },
    belt: {
      words: "Breath belt", unit: "%", low: 0, high: 100, faults: { fast: "quick breath", artefact: "a cough", unplug: "unplugged" },
      at: (t, s, breath) => s.unplug ? null : 50 + 40 * Math.sin(2 * Math.PI * t / (s.fast ? 2.6 : breath * 1.1)) + (s.artefact && (t - s.artefact) % 7 < 0.4 ? 60 * noise(t, 3) : 0),
    },
    grip: {
      words: "Hand grip", unit: "kg", low: 6, high: 10, faults: { tire: "tiring", unplug: "unplugged" },
      at: (t, s) => s.unplug ? null : Math.max(0, 8 + 0.6 * noise(t, 1) - (s.tire ? Math.min(7, 0.15 * (t - s.tire)) : 0)),
    },
  };
  function open(kind, breath) {
    const k = kinds[kind], state = {};
    return { kind, simulated: true, words: k.words, unit: k.unit, low: k.low, high: k.high, faults: k.faults,
      sample: (t) => k.at(t, state, breath), set(name, on, t) { if (on) state[name] = t || 0.001; else delete state[name]; } };
  }
  // breathLength is the length of a breath in a series of [seconds, value]: the mean time
  // between rises through the middle, leaving out what no breath can be.
  function breathLength(series) {
    const mid = 50, rises = [];
    for (let i = 1; i < series.length; i++) if (series[i - 1][1] < mid && series[i][1] >= mid) rises.push(series[i][0]);
    const gaps = rises.slice(1).map((t, i) => t - rises[i]).filter((g) => g >= 1.5 && g <= 15).sort((a, b) => a - b);
    return gaps.length < 3 ? 0 : gaps[Math.floor(gaps.length / 2)];
  }
  return { kinds: Object.keys(kinds), open, breathLength };
})();
