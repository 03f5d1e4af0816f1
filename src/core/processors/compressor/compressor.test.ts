import { describe, expect, test } from "@jest/globals";
import { inTime as through, make, pairThrough, rate } from "../../testing/runProcessor";
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
    const peak = through(
      make(compressor, { threshold: -20, ratio: 30, knee: 0, release: 2, attack: 0.001 }),
      sine(2000, 1, 1),
    );
    const rms = through(
      make(compressor, { threshold: -20, ratio: 30, knee: 0, release: 2, attack: 0.001, detector: "RMS" }),
      sine(2000, 1, 1),
    );
    const top = (y: Float32Array) => db(Math.max(...y.slice(-4800)));
    expect(top(rms) - top(peak)).toBeCloseTo(3.01 * (29 / 30), 1);
  });

  const step = (values: object) => {
    const x = constant(1, 1.2);
    x.fill(0.001, 0.2 * rate);
    const y = through(make(compressor, { threshold: -40, ratio: 30, knee: 0, attack: 0.0005, ...values }), x);
    return (seconds: number) => db(y[Math.round(seconds * rate)]! / x[Math.round(seconds * rate)]!);
  };
  test("hold keeps the reduction for its time and gives it back then", () => {
    const plain = step({ release: 0.1 });
    const held = step({ release: 0.1, hold: 0.05 });
    expect(held(0.248)).toBeCloseTo(held(0.199), 3);
    for (const t of [0.06, 0.1, 0.3]) expect(held(0.25 + t)).toBeCloseTo(plain(0.2 + t), 1);
  });
  test("it never turns down by more than the most reduction", () => {
    expect(step({ range: 9, release: 0.1 })(0.19)).toBeCloseTo(-9, 3);
  });
  test("by the programme a long reduction comes back eight times slower than a short one", () => {
    const release = 0.02;
    // The slow part has followed the reduction for 0.2 s, its own time is 8 x 0.02 s.
    const stood = 1 - Math.exp(-0.2 / (8 * release));
    const full = -step({ release })(0.199);
    const left = (t: number) => -step({ release, releases: "programme" })(0.2 + t);
    // What is given back follows the slow part behind its own time: two exponentials, 8/7 of the slow one.
    expect(left(0.16)).toBeCloseTo(full * stood * Math.exp(-1) * (8 / 7), 1);
    const short = constant(0.001, 0.5);
    short.fill(1, 4800, 4800 + 48);
    const values = { threshold: -40, ratio: 30, knee: 0, attack: 0.0005, release, releases: "programme" };
    const y = through(make(compressor, values), short);
    const reduction = (i: number) => -db(y[i]! / short[i]!);
    expect(reduction(4848 + 960) / reduction(4848)).toBeCloseTo(1 / Math.E, 1);
  });
  // With the loop closed, g' = (R - 1)(L - T - g): the static curve of the ratio R, reached R times as fast (derived by hand).
  test("feedback has the same static curve and is faster by its ratio", () => {
    const values = { threshold: -40, ratio: 5, knee: 0, attack: 0.02, release: 1, works: "feedback" };
    const y = through(make(compressor, values), constant(1, 0.5));
    const full = db(y.at(-1)!);
    expect(full).toBeCloseTo(-32, 2);
    const at = y.findIndex((v) => db(v) <= full * (1 - 1 / Math.E));
    expect(at / rate).toBeCloseTo(0.02 / 5, 3);
  });
  test("both detectors: turned down by no less than by either, and by single frames as by peaks", () => {
    const level = (detector: string, x: Float32Array) => {
      const values = { threshold: -30, ratio: 30, knee: 0, attack: 0.0005, release: 2, detector };
      return db(Math.max(...through(make(compressor, values), x).slice(-4800)));
    };
    const x = sine(2000, 1, 1);
    for (const one of ["peak", "RMS"]) expect(level("both", x)).toBeLessThan(level(one, x) + 0.01);
    const clicks = constant(0, 1).map((_, i) => (i % 2400 === 0 ? 1 : 0));
    expect(level("both", clicks)).toBeLessThan(level("RMS", clicks) - 3);
  });
  test("the detector's low-pass and tilt change what it hears, not what passes", () => {
    const loud = sine(8000, 1, 0.5);
    const reduction = (values: object) =>
      db(
        Math.max(
          ...through(
            make(compressor, { threshold: -20, ratio: 30, knee: 0, attack: 0.001, release: 2, ...values }),
            loud,
          ).slice(-4800),
        ),
      );
    expect(reduction({})).toBeCloseTo(-20 * (29 / 30), 1);
    expect(reduction({ lowPass: 2000 })).toBeGreaterThan(-1.5); // 24 dB down at two octaves
    expect(reduction({ tilt: 6 }) - reduction({})).toBeCloseTo(-6 * (29 / 30), 0);
  });
  // The reduction is smoothed with the attack's time constant: after the look-ahead t it has reached 1 - exp(-t / attack).
  test.each([0.001, 0.003, 0.005])(
    "with a look-ahead of %d s that much of the attack is over when a sound begins",
    (lookahead) => {
      const x = constant(0.001, 0.4);
      x.fill(1, 0.2 * rate);
      const values = { threshold: -40, ratio: 30, knee: 0, attack: 0.002, release: 1, lookahead };
      const y = through(make(compressor, values), x);
      const full = db(y.at(-1)!);
      expect(db(y[0.2 * rate]!)).toBeCloseTo(full * (1 - Math.exp(-lookahead / 0.002)), 0);
      const before = Math.round((0.2 - lookahead) * rate) - 2;
      expect(db(y[before]! / x[before]!)).toBeCloseTo(0, 5);
    },
  );
  test.each(["mid", "side"])(
    "of the %s alone: that follows the static curve, the other keeps its level",
    (side) => {
      const [loud, soft] = [Math.pow(10, -10 / 20), Math.pow(10, -14 / 20)];
      const left = constant(side === "mid" ? loud + soft : soft + loud, 0.3);
      const right = constant(side === "mid" ? loud - soft : soft - loud, 0.3);
      const values = { threshold: -20, ratio: 4, knee: 0, attack: 0.001, release: 0.02, side };
      const [l, r] = pairThrough(compressor, values, left, right);
      const [mid, other] = [(l.at(-1)! + r.at(-1)!) / 2, (l.at(-1)! - r.at(-1)!) / 2];
      const [turned, kept] = side === "mid" ? [mid, other] : [other, mid];
      expect(db(turned)).toBeCloseTo(compressedLevel(-10, -20, 4, 0), 2);
      expect(db(kept)).toBeCloseTo(-14, 4);
    },
  );
});
