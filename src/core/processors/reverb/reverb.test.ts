import { describe, expect, test } from "@jest/globals";
import { resolveParams } from "../../params";
import { channelsThrough, make, rate, run } from "../../testing/runProcessor";
import { impulse, sine } from "../../testing/signals";
import { designButterworth, filtered } from "../../signal/biquad";
import { reverb } from ".";
import { reflectionsOf } from "./earlyReflections";
import { designDamping } from "./network";

describe("reverb", () => {
  // Schroeder integration (JASA 37, 1965), T60 from the -5 to -35 dB slope (ISO 3382-1, T30).
  const t60 = (decay: number, damping: number, low: number, high: number, more = {}): number => {
    const [wet] = run(reverb, { decay, damping, ...more }, impulse(Math.round(rate * decay * 2)));
    const band = [...designButterworth("high", low, 4, rate), ...designButterworth("low", high, 4, rate)];
    const y = filtered(wet!, band);
    const energy = new Float64Array(y.length);
    let sum = 0;
    for (let i = y.length - 1; i >= 0; i--) energy[i] = sum += y[i]! ** 2;
    const reach = (db: number) => energy.findIndex((e) => 10 * Math.log10(e / energy[0]!) <= db);
    return (2 * (reach(-35) - reach(-5))) / rate;
  };
  // Middle frequencies as there: the octaves of 500 Hz and 1 kHz.
  test.each([
    [0.4, 6500],
    [0.8, 6500],
    [2, 6500],
    [2, 4000],
    [3, 20000],
  ])("decays by 60 dB in the %d s that are set, within 10 %%, damping %d Hz", (decay, damping) => {
    expect(Math.abs(t60(decay, damping, 354, 1414) / decay - 1)).toBeLessThan(0.1);
  });
  test.each(["chamber", "plate", "hall"])(
    "a %s decays by 60 dB in the time that is set, still or wandering",
    (kind) => {
      for (const modulation of [0, 60])
        expect(Math.abs(t60(1.8, 20000, 354, 1414, { kind, modulation }) / 1.8 - 1)).toBeLessThan(0.1);
    },
  );
  /**
   * Echo density: share of frames beyond one standard deviation, against that of noise (0.317), in windows of 20 ms.
   * Source  Abel and Huang, "A simple, robust measure of reverberation echo density", AES 121st Convention, 2006.
   */
  const density = (kind: string, from: number): number => {
    const [y] = run(reverb, { kind, decay: 2, size: 100, damping: 20000, predelay: 0 }, impulse(rate));
    const x = y!.slice(from * rate, (from + 0.02) * rate);
    const sd = Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length);
    return x.filter((v) => Math.abs(v) > sd).length / x.length / 0.317;
  };
  test("a plate is dense at once, a hall later, and all of them in the end", () => {
    expect(density("plate", 0.06)).toBeGreaterThan(0.7);
    expect(density("hall", 0.08)).toBeLessThan(density("plate", 0.08));
    for (const kind of ["room", "chamber", "plate", "hall"]) expect(density(kind, 0.6)).toBeGreaterThan(0.85);
  });
  test("decays in half the time at the damping", () => {
    expect(Math.abs(t60(1.5, 4000, 3700, 4300) / 0.75 - 1)).toBeLessThan(0.15);
  });
  test("both sides are as loud and not the same", () => {
    const [l, r] = run(reverb, {}, impulse(rate));
    const power = (x: Float32Array) => x.reduce((s, v) => s + v * v, 0);
    expect(Math.abs(10 * Math.log10(power(l!) / power(r!)))).toBeLessThan(3);
    expect(l).not.toEqual(r);
  });
  // Each line decays by 60 dB / T60 and, at the damping, by as much again; between, by its low-pass (Jot and Chaigne 1991).
  test.each([125, 250, 500, 1000, 2000, 4000])("decays by octave as its lines do, %d Hz", (octave) => {
    const [decay, damping] = [1.6, 5000];
    const length = Math.round(0.0533 * 0.45 * rate);
    const gain = Math.pow(10, (-3 * length) / (decay * rate));
    const pole = designDamping(gain, Math.cos((2 * Math.PI * damping) / rate));
    const at = (f: number) => {
      const w = (2 * Math.PI * f) / rate;
      const lowPass = (1 - pole) / Math.sqrt(1 + pole * pole - 2 * pole * Math.cos(w));
      return (-3 * length) / (rate * Math.log10(gain * lowPass));
    };
    // An octave falls as the sum of what lies in it; read between -5 and -35 dB as it is measured.
    const times = Array.from({ length: 33 }, (_, k) => at(octave * 2 ** (k / 32 - 0.5)));
    const left = (t: number) =>
      10 *
      Math.log10(times.reduce((s, T) => s + T * 10 ** ((-6 * t) / T), 0) / times.reduce((s, T) => s + T, 0));
    const reach = (db: number) =>
      Array.from({ length: 4000 }, (_, k) => k / 1000).find((t) => left(t) <= db)!;
    const wanted = 2 * (reach(-35) - reach(-5));
    const measured = t60(decay, damping, octave / Math.SQRT2, octave * Math.SQRT2, { lowCut: 20 });
    expect(Math.abs(measured / wanted - 1)).toBeLessThan(0.1);
  });
  test.each([50, 200])("lows decay in %d %% of the time, middles in the time that is set", (lowDecay) => {
    const more = { lowDecay, lowCut: 20 };
    const low = t60(1.5, 20000, 44, 88, more) / (1.5 * (lowDecay / 100));
    expect(Math.abs(low - 1)).toBeLessThan(0.15);
    expect(Math.abs(t60(1.5, 20000, 1400, 2800, more) / 1.5 - 1)).toBeLessThan(0.1);
  });
  const powerIn = (x: Float32Array, from: number, to: number) =>
    10 * Math.log10(x.slice(from * rate, to * rate).reduce((s, v) => s + v * v, 1e-20));
  test("a gate on the tail lets it ring for its hold and then closes in its release; by hits as well", () => {
    const x = impulse(2 * rate);
    const plain = run(reverb, { decay: 3 }, x)[0]!;
    for (const tailGate of ["level", "hits"]) {
      const values = { decay: 3, tailGate, tailHold: 0.3, tailRelease: 0.02 };
      const y = run(reverb, values, x, Float64Array.from([0]))[0]!;
      expect(powerIn(y, 0.1, 0.29) - powerIn(plain, 0.1, 0.29)).toBeCloseTo(0, 1);
      // Two time constants behind the hold: 17.4 dB.
      expect(powerIn(y, 0.339, 0.341) - powerIn(plain, 0.339, 0.341)).toBeCloseTo(-17.4, 0);
      expect(powerIn(y, 0.7, 1)).toBeLessThan(-120);
    }
  });
  test("width 0 is mono, and the middle stays", () => {
    const x = impulse(rate);
    const [l, r] = run(reverb, { width: 0 }, x);
    expect(l).toEqual(r);
    const [wideLeft, wideRight] = run(reverb, {}, x);
    for (const i of [2000, 5000, 9000]) expect(l![i]).toBeCloseTo((wideLeft![i]! + wideRight![i]!) / 2, 6);
  });
  test("another kind comes in while the former one rings out, without a step", () => {
    const x = sine(220, 0.3, 2);
    const p = make(reverb, { kind: "room", decay: 1 });
    const first = channelsThrough(p, x.slice(0, rate), 2)[0]!;
    p.set(resolveParams(reverb.params, { kind: "hall", decay: 1 }));
    const then = channelsThrough(p, x.slice(rate), 2)[0]!;
    const step = (y: Float32Array) =>
      y.reduce((most, v, i) => (i ? Math.max(most, Math.abs(v - y[i - 1]!)) : 0), 0);
    const whole = Float32Array.from([...first.slice(-2000), ...then]);
    expect(step(whole)).toBeLessThan(1.2 * Math.max(step(first), step(then.slice(rate / 2))));
    // The former tail is there, and what comes in is heard at once.
    expect(powerIn(then, 0, 0.05) - powerIn(first, 0.95, 1)).toBeGreaterThan(-3);
  });
});

describe("early reflections", () => {
  // Allen and Berkley 1979: by hand, the wall behind who listens and the floor of a room of 6 x 9 x 3 m at 3 m.
  test("arrive by the way of their image sources", () => {
    const found = reflectionsOf({ roomWidth: 6, roomDepth: 9, roomHeight: 3, distance: 3 });
    const direct = Math.hypot(3, 0.7);
    const back = Math.hypot(18 - 3 - 6, 0.7);
    const floor = Math.hypot(3, 2.5);
    const side = Math.hypot(6, 3, 0.7);
    for (const way of [back, floor, side]) {
      const one = found.find((r) => Math.abs(r.delay - (way - direct) / 343) < 1e-9)!;
      expect(Math.hypot(one.left, one.right)).toBeCloseTo((0.75 * direct) / way, 9);
    }
    // Three axes, two walls each; then six of two on one axis and twelve of one on each of two.
    expect(found).toHaveLength(6 + 6 + 12);
  });
  test("a room that is the same on both sides answers on both sides alike", () => {
    const found = reflectionsOf({ roomWidth: 6, roomDepth: 9, roomHeight: 3, distance: 3 });
    const sum = (side: "left" | "right") => found.reduce((s, r) => s + r[side], 0);
    expect(sum("left")).toBeCloseTo(sum("right"), 9);
  });
  test("are heard in the space at their level", () => {
    const x = impulse(rate);
    const quiet = run(reverb, { decay: 0.1, size: 100 }, x)[0]!;
    const y = run(reverb, { decay: 0.1, size: 100, early: 0 }, x)[0]!;
    const first = reflectionsOf({ roomWidth: 7, roomDepth: 9, roomHeight: 3.2, distance: 3 })[0]!;
    const at = Math.round(first.delay * rate);
    expect(y[at]! - quiet[at]!).toBeCloseTo(first.left, 5);
  });
});
