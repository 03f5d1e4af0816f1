import { expect, test } from "@jest/globals";
import type { Hit } from "../song/song";
import { hitSpectra } from "./spectra";

const rate = 48000;
const stroke = (time: number, ghost = false): Hit => ({
  piece: "snare",
  time,
  levelDb: -10,
  ghost,
  kind: "stroke",
  sure: 1,
});
const hits = [stroke(0.5), stroke(1, true), stroke(1.5), stroke(2.5)];

/** A 6 kHz stick for 8 ms, then a tone of 200 Hz; ghost notes ring at 800 Hz. */
const x = new Float32Array(3.5 * rate);
for (const { time, ghost } of hits)
  for (let i = 0; i < 0.4 * rate; i++) {
    const t = i / rate;
    const f = ghost ? 800 : t < 0.008 ? 6000 : 200;
    x[Math.round(time * rate) + i]! +=
      (ghost ? 0.05 : 0.5) * Math.exp(-t / 0.15) * Math.sin(2 * Math.PI * f * t);
  }

test("parts of a stroke are told apart: stick, tail and ghost notes", () => {
  const s = hitSpectra(x, ["snare"], hits, 0, rate);
  const strongest = ({ levels, frequencies }: typeof s.stick) =>
    frequencies[levels.indexOf(Math.max(...levels))]!;
  expect([s.strokes, s.ghosts]).toEqual([3, 1]);
  expect(Math.abs(strongest(s.stick) / 6000 - 1)).toBeLessThan(0.1);
  expect(Math.abs(strongest(s.tail) / 200 - 1)).toBeLessThan(0.1);
  expect(Math.abs(strongest(s.atGhosts) / 800 - 1)).toBeLessThan(0.1);
});
test("a stretch of the recording tells the same as the whole, by the strokes that lie in it", () => {
  const from = 0.3 * rate;
  const whole = hitSpectra(x, ["snare"], hits, 0, rate);
  const part = hitSpectra(x.subarray(from), ["snare"], hits, 0, rate, from);
  for (const key of ["atHits", "stick", "tail", "atGhosts"] as const)
    expect([...part[key].levels]).toEqual([...whole[key].levels]);
  expect(hitSpectra(x.subarray(rate), ["snare"], hits, 0, rate, rate).strokes).toBe(2);
});
