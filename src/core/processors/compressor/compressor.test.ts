import { describe, expect, test } from "@jest/globals";
import { make, rate, through } from "../../testing/runProcessor";
import { sine } from "../../testing/signals";
import { compressor } from ".";
import { compressedLevel } from "./compressor";

const constant = (level: number, seconds: number) => new Float32Array(seconds * rate).fill(level);
const db = (v: number) => 20 * Math.log10(Math.abs(v));

describe("compressor", () => {
  // Giannoulis, Massberg, Reiss, J. Audio Eng. Soc. 60(6), 2012, eq. 4: worked by hand for T -20, R 4, W 10.
  test.each([
    [-40, -40],
    [-25, -25], // the knee begins
    [-20, -20 + ((1 / 4 - 1) * 5 ** 2) / 20],
    [-15, -20 + 5 / 4], // the knee ends
    [0, -15],
  ])("static curve: %d dB comes out at %d dB", (level, wanted) => {
    expect(compressedLevel(level, -20, 4, 10)).toBeCloseTo(wanted, 9);
    const p = make(compressor, { threshold: -20, ratio: 4, knee: 10, attack: 0.001, release: 0.02 });
    const y = through(p, constant(Math.pow(10, level / 20), 0.3));
    expect(db(y[y.length - 1]!)).toBeCloseTo(wanted, 2);
  });

  // The same paper, section 2.3: a step of the reduction is followed to 1 - 1/e within the time constant.
  test.each([0.005, 0.03])("attack of %d s reaches 63 %% of the reduction in that time", (attack) => {
    const p = make(compressor, { threshold: -40, ratio: 30, knee: 0, attack, release: 1 });
    const y = through(p, constant(1, 0.5));
    const full = db(y[y.length - 1]!);
    const at = y.findIndex((v) => db(v) <= full * (1 - 1 / Math.E));
    expect(at / rate).toBeCloseTo(attack, 3);
  });
  test("release gives 63 % back in its time", () => {
    const p = make(compressor, { threshold: -40, ratio: 30, knee: 0, attack: 0.0005, release: 0.1 });
    const x = constant(1, 0.6);
    x.fill(0.001, 0.1 * rate);
    const y = through(p, x);
    const from = db(y[0.1 * rate]! / 0.001);
    const at = y.findIndex((v, i) => i > 0.1 * rate && db(v / 0.001) >= from / Math.E);
    expect((at - 0.1 * rate) / rate).toBeCloseTo(0.1, 2);
  });
  test("mix 0 leaves the signal, apart from make-up, as it is", () => {
    const x = sine(200, 0.9, 0.2);
    expect(through(make(compressor, { mix: 0 }), x)).toEqual(x);
  });
  test("RMS reads a sine 3.01 dB under its peak (AES17)", () => {
    const peak = through(make(compressor, { threshold: -20, ratio: 30, knee: 0, release: 2, attack: 0.001 }), sine(2000, 1, 1));
    const rms = through(make(compressor, { threshold: -20, ratio: 30, knee: 0, release: 2, attack: 0.001, detector: "RMS" }), sine(2000, 1, 1));
    const top = (y: Float32Array) => db(Math.max(...y.slice(-4800)));
    expect(top(rms) - top(peak)).toBeCloseTo(3.01 * (29 / 30), 1);
  }); // prettier-ignore
});
