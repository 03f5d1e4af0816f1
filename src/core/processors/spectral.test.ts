import { describe, expect, test } from "@jest/globals";
import { resolveParams, type AnyValues } from "../params";
import { plainContext, type Processor, type ProcessorType } from "../processor";
import { impulse, levelAt, noise, sine } from "../testing/signals";
import { designButterworth, filtered } from "../signal/biquad";
import { dynamicEq } from "./dynamicEq";
import { dynamicResponseDb } from "./dynamicEqResponse";
import { reverb } from "./reverb";
import { saturation } from "./saturation";
import { delay, pan, trim } from "./simple";

const rate = 48000;
function run(type: ProcessorType, values: AnyValues, x: Float32Array, hits = new Float64Array(0)): Float32Array[] {
  const p: Processor = type.create();
  p.prepare({ sampleRate: rate, channels: 1, maxFrames: 128 });
  p.set(resolveParams(type.params, values));
  p.reset();
  const two = type.type === "pan" || type.type === "reverb";
  const out = [new Float32Array(x.length), new Float32Array(x.length)].slice(0, two ? 2 : 1);
  for (let i = 0; i < x.length; i += 128) {
    const n = Math.min(128, x.length - i);
    p.process([x.subarray(i, i + n)], out.map((o) => o.subarray(i, i + n)), n, { ...plainContext(i), hits });
  }
  return out;
} // prettier-ignore

describe("saturation", () => {
  // Measured limits; this table only tightens. The default drive is 6 dB.
  test.each([
    ["soft", 6, -80],
    ["rounded", 6, -80],
    ["hard", 6, -80],
    ["soft", 12, -80],
    ["rounded", 12, -80],
    ["hard", 12, -70],
  ])("%s at %d dB drive: a full-scale 5 kHz sine leaves aliases below %d dB", (character, drive, limit) => {
    const x = sine(5000, 1, 1);
    const [y] = run(saturation, { character, drive, output: 0 }, x);
    const steady = y!.slice(24000 - 9600, 24000); // a whole number of periods and of every alias
    const fundamental = levelAt(steady, 5000);
    // Odd harmonics of 5 kHz above 24 kHz fold to |n 5000 - k 48000|.
    for (let n = 5; n <= 39; n += 2) {
      const folded = Math.abs(n * 5000 - 48000 * Math.round((n * 5000) / 48000));
      if (folded % 10000 === 5000 && folded <= 15000) continue; // lies on a true harmonic
      expect(levelAt(steady, folded) - fundamental).toBeLessThan(limit);
    }
  });
  test("symmetric bends add odd harmonics only, the even setting adds the octave", () => {
    const level = (even: number, n: number) => {
      const y = run(saturation, { drive: 6, even, output: 0 }, sine(500, 0.5, 1))[0]!.slice(-24000);
      return levelAt(y, 500 * n) - levelAt(y, 500);
    };
    expect(level(0, 2)).toBeLessThan(-100);
    expect(level(0, 3)).toBeGreaterThan(-50);
    expect(level(80, 2)).toBeGreaterThan(-40);
  });
  // Series of the rational tanh: x - c x^3 with c = 1/3 - 1/27; a small sine of amplitude a has a third harmonic c a^2/4.
  test("soft follows its series' third harmonic for small signals", () => {
    const a = 0.05;
    const y = run(saturation, { drive: 0, output: 0 }, sine(500, a, 1))[0]!.slice(-24000);
    expect(levelAt(y, 1500) - levelAt(y, 500)).toBeCloseTo(20 * Math.log10(((8 / 27) * a * a) / 4), 1);
  });
  test("a silent input with even harmonics stays silent", () => {
    expect(Math.max(...run(saturation, { even: 100, drive: 20 }, new Float32Array(2048))[0]!)).toBeLessThan(
      1e-9,
    );
  });
});

describe("dynamic EQ", () => {
  // The closed form is the W3C Cookbook's; at rest the filter does not move and can be measured as a linear one.
  test.each([
    ["high shelf", { lowShape: "off", highShape: "high shelf", highFrequency: 700, highGain: -18 }],
    ["low shelf", { highShape: "off", lowShape: "low shelf", lowFrequency: 300, lowGain: -12 }],
    [
      "eight bands",
      {
        lowShape: "low shelf",
        highShape: "high shelf",
        band3Shape: "bell",
        band4Shape: "low shelf",
        band5Shape: "high shelf",
        band6Shape: "bell",
        band7Shape: "bell",
        band8Shape: "bell",
        band3Gain: -4,
        band4Gain: 3,
        band5Gain: 5,
        band6Gain: -7,
        band7Gain: 6,
        band8Gain: -3,
      },
    ],
    ["bell", { lowShape: "off", highShape: "bell", highFrequency: 2000, highWidth: 2, highGain: 9 }],
  ])("%s at rest has its closed-form response", (_, values) => {
    const [y] = run(dynamicEq, { opens: "hits", ...values }, impulse(16384, 100));
    const full = resolveParams(dynamicEq.params, { opens: "hits", ...values });
    for (const f of [60, 200, 700, 2000, 8000, 15000])
      expect(Math.abs(levelAt(y!, f) - dynamicResponseDb(full, 0, f, rate))).toBeLessThan(0.05);
  });
  test("half the gain at the corner of a shelf (Cookbook)", () => {
    const full = resolveParams(dynamicEq.params, { lowShape: "off", highFrequency: 700, highGain: -18 });
    expect(dynamicResponseDb(full, 0, 700, rate)).toBeCloseTo(-9, 6);
    expect(dynamicResponseDb(full, 1, 5000, rate)).toBeCloseTo(0, 6);
  });
  test("a bell at 5 kHz is moved by a loud 100 Hz tone when it hears the whole mic, and not when it hears its band", () => {
    const x = sine(100, 0.5, 1).map((v, i) => v + 0.001 * Math.sin((2 * Math.PI * 5000 * i) / rate));
    const change = (hears: string) => {
      const values = { opens: "level", lowShape: "off", highShape: "off", band3Shape: "bell", band3Frequency: 5000, band3Width: 2, band3Range: -12, band3Hears: hears };
      const [y] = run(dynamicEq, values, x);
      return levelAt(y!.slice(24000, 48000), 5000) - levelAt(x.slice(24000, 48000), 5000);
    };
    expect(change("whole mic")).toBeLessThan(-11);
    expect(Math.abs(change("band"))).toBeLessThan(0.5);
  }); // prettier-ignore
  test("a hit opens it at once; between hits the bleed is down by its gain", () => {
    const x = noise(rate, 5);
    const values = { opens: "hits", lowShape: "off", highFrequency: 20, highGain: -18, highRange: 18 };
    const [y] = run(dynamicEq, values, x, Float64Array.from([24000]));
    const power = (v: Float32Array, a: number, b: number) => v.slice(a, b).reduce((s, u) => s + u * u, 0);
    const change = (a: number, b: number) => 10 * Math.log10(power(y!, a + 48, b + 48) / power(x, a, b));
    expect(change(10000, 20000)).toBeCloseTo(-18, 0);
    expect(change(24000, 24400)).toBeGreaterThan(-0.5);
    expect(change(30000, 40000)).toBeCloseTo(-18, 0);
  });
});

describe("reverb", () => {
  // Schroeder integration (JASA 37, 1965), T60 from the -5 to -35 dB slope (ISO 3382-1, T30).
  const t60 = (decay: number, damping: number, low: number, high: number): number => {
    const [wet] = run(reverb, { decay, damping }, impulse(Math.round(rate * decay * 2)));
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
  test("decays in half the time at the damping", () => {
    expect(Math.abs(t60(1.5, 4000, 3700, 4300) / 0.75 - 1)).toBeLessThan(0.15);
  });
  test("both sides are as loud and not the same", () => {
    const [l, r] = run(reverb, {}, impulse(rate));
    const power = (x: Float32Array) => x.reduce((s, v) => s + v * v, 0);
    expect(Math.abs(10 * Math.log10(power(l!) / power(r!)))).toBeLessThan(3);
    expect(l).not.toEqual(r);
  });
});

describe("trim, delay and pan", () => {
  test("trim of -6.02 dB halves", () => {
    expect(run(trim, { gain: -6.0206 }, impulse(128))[0]![0]).toBeCloseTo(0.5, 5);
  });
  test("a whole delay is an exact copy later by latency and delay", () => {
    const x = noise(8192, 9);
    const late = delay.create();
    const [y] = run(delay, { delay: 57 }, x);
    const shift = late.latency + 57;
    expect(y!.slice(shift)).toEqual(x.slice(0, x.length - shift));
  });
  // Sine law (common practice): -3.01 dB each in the middle, all power on one side at the end.
  test("pan keeps the power", () => {
    for (const position of [-100, -40, 0, 70, 100]) {
      const [l, r] = run(pan, { position }, impulse(128));
      expect(l![0]! ** 2 + r![0]! ** 2).toBeCloseTo(1, 5);
    }
    expect(20 * Math.log10(run(pan, { position: 0 }, impulse(128))[0]![0]!)).toBeCloseTo(-3.01, 2);
  });
});
