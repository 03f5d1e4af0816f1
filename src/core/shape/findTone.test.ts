import { expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { findTone } from "./findTone";

const rate = 48000;
const times = Array.from({ length: 12 }, (_, i) => 0.2 + 0.6 * i);
/** Membranes that are struck: the pitch glides from 1.25 times to f within some 20 ms; a click, a ring, and a little of another drum. */
function membranes(f: number, ring: number): Float32Array {
  const x = noise(8 * rate, 4, 2e-4);
  for (const t of times) {
    let phase = 0;
    for (let i = 0; i < 0.5 * rate; i++) {
      const s = i / rate;
      phase += (2 * Math.PI * f * (1 + 0.25 * Math.exp(-s / 0.02))) / rate;
      const body = Math.sin(phase) * Math.exp(-s / 0.15);
      const rung = 0.15 * Math.sin(2 * Math.PI * ring * s) * Math.exp(-s / 0.3);
      const stick = 0.5 * Math.sin(2 * Math.PI * 4100 * s) * Math.exp(-s / 0.004);
      x[Math.round(t * rate) + i]! += 0.4 * (body + rung + stick);
    }
  }
  return x;
}

test.each([
  ["kick", 47.3, 400],
  ["snare", 193.7, 540],
  ["tom1", 118.9, 410],
  ["floor", 77.7, 290],
] as const)(
  "a %s whose pitch glides is found at %p Hz within 1 %, its ring at %p",
  (piece, fundamental, ring) => {
    const tone = findTone(membranes(fundamental, ring), piece, times, rate)!;
    expect(Math.abs(tone.fundamental / fundamental - 1)).toBeLessThan(0.01);
    expect(Math.abs(tone.ring / ring - 1)).toBeLessThan(0.01);
    expect(tone.ringDb).toBeGreaterThan(6);
  },
);
test("cymbals have no such tone, and without strokes nothing is told", () => {
  const x = membranes(60, 300);
  expect(findTone(x, "hat", times, rate)).toBeNull();
  expect(findTone(x, "kick", [], rate)).toBeNull();
});
