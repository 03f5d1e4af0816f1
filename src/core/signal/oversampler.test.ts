import { describe, expect, test } from "@jest/globals";
import { impulse, levelAt, largestDifference, noise, sine } from "../testing/signals";
import { OversampledBend, oversamplings, type Bend } from "./oversampledBend";
import { Oversampler, ShortOversampler, shortFilters, type RateWay } from "./oversampler";

const ways: [string, () => RateWay][] = [
  ["2", () => new ShortOversampler(2, 256)],
  ["4", () => new ShortOversampler(4, 256)],
  ["8", () => new ShortOversampler(8, 256)],
  ["4, steep", () => new Oversampler(256)],
];
const { latency } = Oversampler;

/** There and back in blocks, with nothing done between. */
function through(way: RateWay, x: Float32Array, block = 256): Float32Array {
  const y = new Float32Array(x.length);
  for (let i = 0; i < x.length; i += block) {
    const n = Math.min(block, x.length - i);
    way.up(x.subarray(i, i + n), n);
    way.down(y.subarray(i, i + n), n);
  }
  return y;
}

describe.each(ways)("%s times the rate and back", (name, make) => {
  test("an impulse comes after the stated latency, and symmetric about it: linear phase", () => {
    const y = through(make(), impulse(1024, 300));
    const at = 300 + latency;
    expect(y.indexOf(Math.max(...y))).toBe(at);
    for (let k = 1; k < 60; k++) expect(y[at + k]!).toBeCloseTo(y[at - k]!, 6);
  });
  test("blocks of any length give the same", () => {
    const x = noise(2000, 5);
    expect(largestDifference(through(make(), x, 256), through(make(), x, 37))).toBeLessThan(1e-7);
  });
  // scipy 1.17.1, firwin of the same Kaiser windows (65 taps, half-bands of 47 and 15) by freqz: -0.4 dB at 20 kHz.
  test("levels over frequency", () => {
    const gain = (f: number) => {
      const x = sine(f, 0.5, 0.5);
      return levelAt(through(make(), x).slice(4800), f) - levelAt(x.slice(4800), f);
    };
    for (const f of [100, 5000, 15000, 18000]) expect(Math.abs(gain(f))).toBeLessThan(0.02);
    const top = gain(20000);
    if (name === "4, steep") expect(Math.abs(top)).toBeLessThan(0.01);
    else expect(top).toBeLessThan(0.05);
    expect(top).toBeGreaterThan(-0.6);
  });
});

// scipy 1.17.1: freqz of firwin(65, 21.97 kHz, window=("kaiser", 6.31), fs=96 kHz): 64.7 dB down from 25 kHz on.
test("the short filter stops what would come back below 23 kHz", () => {
  const { middle, odd, even } = shortFilters.down;
  const response = (f: number) => {
    const w = (2 * Math.PI * f) / 96000;
    let sum = middle;
    odd.forEach((t, i) => (sum += 2 * t * Math.cos(w * (2 * i + 1))));
    even.forEach((t, i) => (sum += 2 * t * Math.cos(w * (2 * i + 2))));
    return 20 * Math.log10(Math.abs(sum) + 1e-12);
  };
  expect(response(0)).toBeCloseTo(0, 6);
  for (let f = 25000; f <= 48000; f += 50) expect(response(f)).toBeLessThan(-64);
});

describe("a bend at a rate that changes while it runs", () => {
  const cubic: Bend = {
    bend(fast, frames, factor) {
      for (let i = 0; i < factor * frames; i++) fast[i]! -= fast[i]! ** 3 / 3;
    },
  };
  const run = (choices: (at: number) => (typeof oversamplings)[number], x: Float32Array) => {
    const bend = new OversampledBend(128);
    const y = new Float32Array(x.length);
    bend.choose(choices(0));
    bend.reset();
    for (let at = 0; at < x.length; at += 128) {
      bend.choose(choices(at));
      bend.process(x.subarray(at, at + 128), y.subarray(at, at + 128), 128, cubic);
    }
    return y;
  };
  test("goes on as if it had always run so", () => {
    const x = sine(700, 0.8, 0.4).subarray(0, 128 * 140);
    const always = oversamplings.map((one) => run(() => one, x));
    const changing = run((at) => oversamplings[Math.floor(at / 1280) % oversamplings.length]!, x);
    for (let at = 0; at < x.length; at += 128) {
      const same = always[Math.floor(at / 1280) % oversamplings.length]!;
      expect(largestDifference(changing.subarray(at, at + 128), same.subarray(at, at + 128))).toBeLessThan(
        1e-7,
      );
    }
  });
});
