import { describe, expect, test } from "@jest/globals";
import { RealFft } from "../../signal/fft";
import { responseAt, type Section } from "../../signal/biquad";
import { run } from "../../testing/runProcessor";
import { impulse, levelAt, sine } from "../../testing/signals";
import { compressedLevel } from "../compressor/compressor";
import { bandCompressor } from ".";
import { designBands } from "../../signal/crossover";

const rest = { ratio1: 1, ratio2: 1, ratio3: 1, ratio4: 1 };
const steady = (x: Float32Array) => x.slice(-24000);

describe("band compressor", () => {
  // The limit of the work: at rest flat within 0.05 dB, from an impulse through the whole of it.
  test.each(["2", "3", "4"])("%s bands add up flat", (bands) => {
    const size = 65536;
    const [y] = run(bandCompressor, { ...rest, bands }, impulse(size, 0, 0.5));
    const fft = RealFft.of(size);
    const out = fft.spectrum();
    fft.forward(y!, 0, size, out);
    for (let f = 20; f < 20000; f *= 1.05) {
      const k = Math.round((f * size) / 48000);
      expect(Math.abs(20 * Math.log10(Math.hypot(out.re[k]!, out.im[k]!) / 0.5))).toBeLessThan(0.05);
    }
  });
  // Linkwitz 1976: both halves are 6.02 dB down where they meet, in phase with each other.
  test("neighbours are 6 dB down at their crossover and in phase", () => {
    const [f1, f2, f3] = [120, 800, 5000] as const;
    const bands = designBands([f1, f2, f3], 48000);
    const at = (sections: readonly Section[], f: number) =>
      sections.reduce(
        (all, s) => {
          const r = responseAt(s, f, 48000);
          return { re: all.re * r.re - all.im * r.im, im: all.re * r.im + all.im * r.re };
        },
        { re: 1, im: 0 },
      );
    [f1, f2, f3].forEach((f, k) => {
      const [below, above] = [at(bands[k]!, f), at(bands[k + 1]!, f)];
      expect(20 * Math.log10(Math.hypot(below.re, below.im))).toBeCloseTo(-6.02, 0);
      expect(20 * Math.log10(Math.hypot(above.re, above.im))).toBeCloseTo(-6.02, 0);
      const turn = Math.atan2(
        below.im * above.re - below.re * above.im,
        below.re * above.re + below.im * above.im,
      );
      expect(Math.abs(turn)).toBeLessThan(1e-6);
    });
  });
  // Static curve: Giannoulis, Massberg, Reiss 2012, eq. 4.
  test("a low tone is turned down by its band's curve, a high one beside it stays", () => {
    const low = sine(40, 0.5, 2);
    const x = low.map((v, i) => v + 0.1 * Math.sin((2 * Math.PI * 6000 * i) / 48000));
    const [y] = run(bandCompressor, { ...rest, ratio1: 4, threshold1: -20, attack1: 0.0005, release1: 3 }, x);
    const level = 20 * Math.log10(0.5);
    const change = levelAt(steady(y!), 40) - levelAt(steady(x), 40);
    expect(Math.abs(change - (compressedLevel(level, -20, 4, 6) - level))).toBeLessThan(0.5);
    expect(levelAt(steady(y!), 6000) - levelAt(steady(x), 6000)).toBeCloseTo(0, 1);
  });
  test("each band is heard alone, and together they are the whole", () => {
    const x = sine(300, 0.5, 0.5);
    const alone = [1, 2, 3].map(
      (n) => run(bandCompressor, { ...rest, bands: "3", hear: `band ${n}` }, x)[0]!,
    );
    const [whole] = run(bandCompressor, { ...rest, bands: "3" }, x);
    for (const i of [500, 9000]) expect(alone.reduce((s, a) => s + a[i]!, 0)).toBeCloseTo(whole![i]!, 6);
  });
  test("crossovers that are set the wrong way round are taken upwards", () => {
    const [y] = run(bandCompressor, { ...rest, bands: "3", cross1: 900, cross2: 100 }, sine(500, 0.5, 1));
    expect(levelAt(steady(y!), 500) - levelAt(steady(sine(500, 0.5, 1)), 500)).toBeCloseTo(0, 1);
  });
});
