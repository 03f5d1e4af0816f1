import { describe, expect, test } from "@jest/globals";
import { RealFft } from "../../signal/fft";
import { resolveParams } from "../../params";
import { plainContext } from "../../processor";
import { median } from "../../signal/level";
import { run } from "../../testing/runProcessor";
import { impulse, sine } from "../../testing/signals";
import { shortSpace } from ".";

const rate = 48000;
const open = { lowCut: 20, highCut: 20000, predelay: 0 };
const answer = (values: object) =>
  run(shortSpace, { ...open, ...values }, impulse(rate)) as [Float32Array, Float32Array];
const energy = (x: Float32Array, from: number, to: number) =>
  10 * Math.log10(x.slice(from * rate, to * rate).reduce((sum, v) => sum + v * v, 0) + 1e-20);

describe("short space", () => {
  // Reverberation time after Schroeder (JASA 37, 1965): the slope of the energy that is still to come, ISO 3382-1's T20.
  test("decaying: its energy falls by 60 dB in its length", () => {
    const [y] = answer({ shape: "decaying", length: 0.4 });
    const left = new Float64Array(y.length);
    let sum = 0;
    for (let i = y.length - 1; i >= 0; i--) left[i] = sum += y[i]! ** 2;
    const at = (db: number) => left.findIndex((e) => 10 * Math.log10(e / sum) < db) / rate;
    expect((3 * (at(-25) - at(-5))) / 0.4).toBeGreaterThan(0.9);
    expect((3 * (at(-25) - at(-5))) / 0.4).toBeLessThan(1.1);
  });
  // What the filters at 20 Hz let ring on is over 0.1 s later.
  test("gated: even to its end, and nothing behind it", () => {
    const [y] = answer({ shape: "gated", length: 0.3 });
    const thirds = [0, 0.1, 0.2].map((t) => energy(y, t + 0.002, t + 0.1));
    for (const e of thirds) expect(Math.abs(e - thirds[0]!)).toBeLessThan(1);
    expect(energy(y, 0.4, 0.7)).toBeLessThan(thirds[0]! - 60);
  });
  test("reversed: swells by 30 dB to its end", () => {
    const [y] = answer({ shape: "reversed", length: 0.3 });
    const [early, late] = [energy(y, 0.02, 0.06), energy(y, 0.24, 0.28)];
    // A rise of 30 dB in 0.3 s over 0.22 s.
    expect(Math.abs(late - early - 22)).toBeLessThan(2);
    expect(energy(y, 0.4, 0.7)).toBeLessThan(late - 60);
  });
  test("its energy is that of what went in, whatever the length", () => {
    for (const length of [0.05, 0.2, 0.4]) {
      const [y, z] = answer({ shape: "gated", length });
      expect(Math.abs(energy(y, 0, 1))).toBeLessThan(1);
      expect(Math.abs(energy(z, 0, 1))).toBeLessThan(1);
    }
  });
  // White noise through a window has single lines 9 to 10 dB over the median of its spectrum; a ring stands out by more.
  test("nothing rings: no line of its spectrum stands far out of the others", () => {
    const [y] = answer({ shape: "decaying", length: 0.4 });
    const fft = RealFft.of(32768);
    const out = fft.spectrum();
    fft.forward(y, 0, 32768, out);
    const powers = Array.from({ length: 10000 }, (_, k) => out.re[k + 200]! ** 2 + out.im[k + 200]! ** 2);
    expect(10 * Math.log10(Math.max(...powers) / median(powers))).toBeLessThan(13);
  });
  test("width: both sides alike, or independent", () => {
    const correlation = (width: number) => {
      const [y, z] = answer({ width });
      const product = y.reduce((sum, v, i) => sum + v * z[i]!, 0);
      return product / Math.sqrt(10 ** (energy(y, 0, 1) / 10) * 10 ** (energy(z, 0, 1) / 10));
    };
    expect(correlation(0)).toBeGreaterThan(0.999);
    expect(Math.abs(correlation(100))).toBeLessThan(0.1);
  });
  // The largest step of what plays unchanged is the measure.
  test("another length while it plays makes no click", () => {
    const step = (change: boolean) => {
      const p = shortSpace.create();
      p.prepare({ sampleRate: rate, channels: 1, maxFrames: 128 });
      p.set(resolveParams(shortSpace.params, open));
      p.reset();
      const x = sine(100, 0.5, 1);
      const out = [new Float32Array(rate), new Float32Array(rate)];
      for (let at = 0; at + 128 <= rate; at += 128) {
        if (change && at > 24000)
          p.set(resolveParams(shortSpace.params, { ...open, length: 0.2 - (at - 24000) / 480000 }));
        p.process(
          [x.subarray(at, at + 128)],
          out.map((y) => y.subarray(at, at + 128)),
          128,
          plainContext(at),
        );
      }
      return out[0]!.reduce(
        (most, v, i) => (i > 12000 && i < 47900 ? Math.max(most, Math.abs(v - out[0]![i - 1]!)) : most),
        0,
      );
    };
    expect(step(true)).toBeLessThan(4 * step(false));
  });
});
