import { describe, expect, test } from "@jest/globals";
import { bandBins, bandPowers, bleedBands, lookFrames, lookWindow } from "../signal/bleedBands";
import { RealFft } from "../signal/fft";
import { bleedSong } from "../testing/bleedSong";
import { noise } from "../testing/signals";
import { Looks, looksAtOnce } from "./looks";
import { Separation } from "./separate";

const rate = 48000;
const size = lookFrames(rate);
/** Signals of unequal loudness, so that what leaks from one into another is seen. */
const signals = [0.9, 1e-4, 0.3, 1e-2, 0.5].map((level, i) => noise(4 * size, i + 1, level));

/** Puts a stretch of the signals in and listens to it, group by group. */
function hear(looks: Looks, from: number): void {
  for (let g = 0; looksAtOnce * g < signals.length; g++) {
    looks.frames.forEach((frame, i) => {
      const x = signals[looksAtOnce * g + i];
      if (x) frame.set(x.subarray(from, from + size));
      else frame.fill(0);
    });
    looks.listen(g);
  }
}
const decibels = (a: number, b: number) => 10 * Math.log10(a / b);

describe("looks by kernels", () => {
  test.each([22050, 44100, 48000, 96000, 192000])(
    "at %d Hz energies by band are those of the reference",
    (hz) => {
      const looks = new Looks(hz, 2);
      const frames = lookFrames(hz);
      const x = [noise(frames, 7, 0.5), noise(frames, 8, 1e-3)];
      x.forEach((v, i) => looks.frames[i]!.set(v));
      looks.listen(0);
      const fft = RealFft.of(frames);
      const [spectrum, wanted] = [fft.spectrum(), new Float64Array(bleedBands)];
      x.forEach((v, i) => {
        fft.forward(v, 0, frames, spectrum, lookWindow(frames));
        bandPowers(spectrum, bandBins(frames, hz), frames, wanted);
        wanted.forEach((w, b) => expect(Math.abs(decibels(looks.powers[i]![b]!, w))).toBeLessThan(1e-6));
      });
    },
  );

  test("a sine's energy lies in the band of its frequency: a quarter of the squared amplitude, by Parseval's theorem", () => {
    const looks = new Looks(rate, 1);
    const hz = 1000;
    looks.frames[0]!.set(
      Float32Array.from({ length: size }, (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / rate)),
    );
    looks.listen(0);
    // The squared window is half as wide as the look, and half the spectrum is counted: 1/2 (mean) * 1/2 * 1/2 of 0.25 * size² / size².
    const all = looks.powers[0]!.reduce((sum, v) => sum + v, 0);
    expect(decibels(all * size, (0.25 * size) / 8)).toBeCloseTo(0, 1);
    expect(Math.max(...looks.powers[0]!)).toBeGreaterThan(0.9 * all);
  });

  test("with all gains at one, what overlaps adds up to every signal again", () => {
    const looks = new Looks(rate, signals.length);
    for (const applied of looks.applied) applied.fill(1);
    for (let n = 0; n < 7; n++) {
      hear(looks, (n * size) / 2);
      looks.sound(0);
      looks.sound(1);
      looks.swap();
      if (n === 0) continue; // before the first look lies nothing that overlaps
      signals.forEach((x, s) => {
        const most = Math.max(...x.map(Math.abs));
        looks
          .playing(s)
          .forEach((v, i) => expect(Math.abs(v - x[(n * size) / 2 + i]!)).toBeLessThan(1.2e-7 * most));
      });
    }
  });

  test("gains of one signal are its own, in straight lines between the middles of bands", () => {
    const looks = new Looks(rate, signals.length);
    const gains = signals.map((_, s) =>
      Float64Array.from({ length: bleedBands }, (_u, b) => ((7 * b + 3 * s) % 10) / 10),
    );
    gains.forEach((g, s) => looks.applied[s]!.set(g));
    hear(looks, 0);
    for (const g of [0, 1]) looks.sound(g);
    looks.swap();
    const fft = RealFft.of(size);
    const [spectrum, back, window, bins] = [
      fft.spectrum(),
      new Float64Array(size),
      lookWindow(size),
      bandBins(size, rate),
    ];
    const middles = Array.from({ length: bleedBands }, (_, b) => (bins[b]! + bins[b + 1]! - 1) / 2);
    signals.forEach((x, s) => {
      fft.forward(x, 0, size, spectrum, window);
      for (let k = 0; k <= size / 2; k++) {
        const next = middles.findIndex((m) => m >= k);
        const [b, c] = next < 0 ? [bleedBands - 1, bleedBands - 1] : [Math.max(0, next - 1), next];
        const share = c === b ? 0 : (k - middles[b]!) / (middles[c]! - middles[b]!);
        const gain = gains[s]![b]! + share * (gains[s]![c]! - gains[s]![b]!);
        spectrum.re[k]! *= gain;
        spectrum.im[k]! *= gain;
      }
      fft.inverse(spectrum, back);
      looks.playing(s).forEach((v, i) => expect(Math.abs(v - back[i]! * window[i]!)).toBeLessThan(1e-7));
    });
  });

  test("frames that are no numbers are silence, and the three signals beside them stay as they are", () => {
    const [whole, broken] = [new Looks(rate, 4), new Looks(rate, 4)];
    for (const looks of [whole, broken])
      signals.slice(0, 4).forEach((x, i) => looks.frames[i]!.set(x.subarray(0, size)));
    broken.frames[1]!.fill(NaN, 100, 200).fill(-Infinity, 300, 310);
    for (const looks of [whole, broken]) looks.listen(0);
    for (const s of [0, 2, 3])
      broken.powers[s]!.forEach((p, b) => expect(decibels(p, whole.powers[s]![b]!)).toBeCloseTo(0, 6));
    expect(broken.powers[1]!.every((p) => Number.isFinite(p))).toBe(true);
  });

  test("forgotten, it plays silence", () => {
    const looks = new Looks(rate, signals.length);
    looks.applied[0]!.fill(1);
    hear(looks, 0);
    looks.sound(0);
    looks.swap();
    expect(looks.playing(0).some((v) => v !== 0)).toBe(true);
    looks.reset();
    expect(looks.playing(0).every((v) => v === 0)).toBe(true);
  });
});

describe("telling apart by its kernel", () => {
  const { song } = bleedSong();
  const separation = new Separation(song.mics, song.bleed);
  const count = separation.observers.length;
  test.each([1, 2, 3, 4])(
    "energies of seed %d give the gains of the reference, whether drums sound or not",
    (seed) => {
      const looks = new Looks(rate, count);
      looks.learn(separation);
      const some = noise(count * bleedBands, seed);
      const powers = separation.observers.map((_, m) =>
        Float64Array.from({ length: bleedBands }, (_u, b) => 10 ** (-6 + 5 * some[m * bleedBands + b]!)),
      );
      powers.forEach((p, m) => looks.powers[m]!.set(p));
      const sounds = Uint8Array.from(separation.sources, (_, k) => (seed >> k) & 1);
      const wanted = separation.observers.map(() => new Float64Array(bleedBands));
      separation.gains(powers, sounds, wanted);
      looks.tellApart(separation, sounds);
      wanted.forEach((g, m) => g.forEach((v, b) => expect(looks.gains[m]![b]!).toBeCloseTo(v, 10)));
      expect(new Set(wanted.flatMap((g) => [...g])).size).toBeGreaterThan(count);
    },
  );
});
