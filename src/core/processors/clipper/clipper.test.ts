import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { levelAt, noise, sine } from "../../testing/signals";
import { clipper } from ".";
import { excess } from "./clipper";

const rate = 48000;
const { latency } = clipper.create();

/** Fourier integral of a sine of amplitude 1 that is cut at sin(a): the n-th harmonic, n odd. */
const harmonicOfCut = (n: number, a: number): number => {
  const rising = 0.5 * ((n === 1 ? a : Math.sin((n - 1) * a) / (n - 1)) - Math.sin((n + 1) * a) / (n + 1));
  return (4 / Math.PI) * (rising + (Math.sin(a) * Math.cos(n * a)) / n);
};

describe("clipper", () => {
  // The limit of the work: aliases of a full-scale 5 kHz sine at 6 dB over the ceiling lie below -80 dB.
  test.each([0, 20, 100])(
    "knee %d %%: a full-scale 5 kHz sine, 6 dB over, leaves aliases below -80 dB",
    (knee) => {
      const y = run(clipper, { ceiling: -6, knee }, sine(5000, 1, 1))[0]!.slice(24000 - 9600, 24000);
      const fundamental = levelAt(y, 5000);
      let worst = -200;
      for (let n = 5; n <= 75; n += 2) {
        const folded = Math.abs(n * 5000 - rate * Math.round((n * 5000) / rate));
        if (folded % 10000 === 5000 && folded <= 15000) continue; // lies on a true harmonic
        worst = Math.max(worst, levelAt(y, folded) - fundamental);
      }
      expect(worst).toBeLessThan(-80);
    },
  );

  test("hard: the harmonics of a cut sine are those of its Fourier integral", () => {
    const x = sine(100, 1, 1);
    const y = run(clipper, { ceiling: -6, knee: 0 }, x)[0]!.slice(-24000);
    const corner = Math.asin(10 ** (-6 / 20));
    for (const n of [1, 3, 5, 7, 9, 21]) {
      const wanted = 20 * Math.log10(Math.abs(harmonicOfCut(n, corner)));
      expect(levelAt(y, 100 * n) - levelAt(x.slice(-24000), 100)).toBeCloseTo(wanted, 1);
    }
  });

  test("what stays under the knee passes to the bit, as late as it says", () => {
    const x = noise(9000, 4, 0.39); // under -8 dBFS, oversampled peaks under the knee's beginning
    const quiet = x.map((v) => 0.5 * v);
    const y = run(clipper, { ceiling: -6, knee: 10 }, quiet)[0]!;
    expect(y.slice(latency)).toEqual(quiet.slice(0, -latency));
  });

  test("before and behind what is cut it is as if nothing had been cut", () => {
    const x = sine(200, 0.2, 0.5);
    for (let i = 9000; i < 9100; i++) x[i] = 0.9;
    const y = run(clipper, { ceiling: -6, knee: 0 }, x)[0]!;
    // The filters are 2 x 127 frames long at twice the rate around what was cut.
    expect(y.slice(latency, 8800 + latency)).toEqual(x.slice(0, 8800));
    expect(y.slice(9300 + latency)).toEqual(x.slice(9300, x.length - latency));
    expect(Math.max(...y.slice(9020 + latency, 9080 + latency))).toBeLessThan(0.9);
  });

  test("a step settles on the ceiling, and a mix of half lies half way", () => {
    const step = new Float32Array(4800).fill(1);
    const end = (values: object) => run(clipper, { ceiling: -6, knee: 0, ...values }, step)[0]!.at(-1)!;
    const ceiling = 10 ** (-6 / 20);
    expect(end({})).toBeCloseTo(ceiling, 4);
    expect(end({ mix: 50 })).toBeCloseTo((1 + ceiling) / 2, 4);
    expect(end({ input: 6, ceiling: -12 })).toBeCloseTo(10 ** (-12 / 20), 4);
  });

  // The integrals by which it is smoothed, against numeric integration (trapezia).
  test.each([0, 0.3, 1])("the integrals of the curve with knee %d belong to it", (k) => {
    const curve = excess(k);
    const h = 1e-4;
    let [first, second] = [0, 0];
    for (let x = 0; x < 3; x += h) {
      const before = first;
      first += (h * (curve.value(x) + curve.value(x + h))) / 2;
      second += (h * (before + first)) / 2;
    }
    expect(curve.first(3)).toBeCloseTo(first, 3);
    expect(curve.second(3)).toBeCloseTo(second, 3);
    expect(curve.second(-3)).toBe(-curve.second(3));
  });
});
