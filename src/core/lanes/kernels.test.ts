import { describe, expect, test } from "@jest/globals";
import { processChain } from "../engine/processChain";
import type { ParamValue } from "../params";
import { processorTypes } from "../processors";
import type { ProcessorState } from "../song/song";
import { noise } from "../testing/signals";

const rate = 48000;
const db = (x: number) => 20 * Math.log10(x + 1e-30);

/** Strokes over bleed, so that gates open, compressors work and tails decay. */
function strokes(seed: number): Float32Array {
  const x = noise(3 * rate, seed, 0.8);
  for (let i = 0; i < x.length; i++) x[i]! *= 0.003 + Math.exp(-(i % 17000) / 1500);
  return x;
}
const hits = Float64Array.from({ length: 8 }, (_, i) => 17000 * i + 0.4);
const state = (type: string, params: Record<string, ParamValue>): ProcessorState => ({
  id: `x.${type}`,
  type,
  on: true,
  params: {
    ...Object.fromEntries(
      Object.entries(processorTypes.find((p) => p.type === type)!.params).map(([n, s]) => [n, s.default]),
    ),
    ...params,
  },
});
const fullEq = {
  highPassSlope: "24",
  highPassFrequency: 45,
  lowShelfGain: 4,
  bell1Gain: -6,
  bell2Gain: 5,
  bell3Gain: -3,
  bell4Gain: 6,
  highShelfGain: 3,
  lowPassSlope: "12",
  lowPassFrequency: 15000,
};

const settings: [string, string, Record<string, ParamValue>][] = [
  ["trim", "trim", { gain: -7.3 }],
  ["polarity", "polarity", { polarity: "inverted" }],
  ["delay by a fraction", "delay", { delay: -31.7 }],
  ["delay by whole frames", "delay", { delay: 12 }],
  ["phase rotation", "rotation", { frequency: 320, q: 1.2 }],
  ["gate by level", "gate", { threshold: -30, highPass: 80, lowPass: 9000 }],
  ["gate, its detector heard", "gate", { hear: "detector", highPass: 300, lowPass: 5000 }],
  ["gate by hits", "gate", { opens: "hits", lookahead: 0.003 }],
  ["gate by both, slow", "gate", { opens: "both", threshold: -20, release: 1.5, attack: 0.02 }],
  ["dynamic EQ by level", "dynamicEq", { lowShape: "low shelf" }],
  [
    "dynamic EQ by hits, bells",
    "dynamicEq",
    { opens: "hits", lowShape: "bell", highShape: "bell", highFrequency: 4000 },
  ],
  [
    "dynamic EQ, eight bands",
    "dynamicEq",
    {
      opens: "both",
      lowShape: "bell",
      lowFrequency: 90,
      band3Shape: "bell",
      band4Shape: "low shelf",
      band5Shape: "high shelf",
      band5Range: 9,
      band6Shape: "bell",
      band6Hears: "whole mic",
      band7Shape: "bell",
      band7Threshold: -40,
      band8Shape: "bell",
      band8Gain: 4,
    },
  ],
  ["EQ with everything", "eq", fullEq],
  [
    "EQ, bands of mid, side and one side",
    "eq",
    {
      bell1Gain: 6,
      bell1Side: "mid",
      bell2Gain: -8,
      bell2Side: "side",
      bell3Gain: 5,
      bell3Side: "left",
      bell4Gain: -5,
      bell4Side: "right",
      lowShelfGain: 3,
    },
  ],
  [
    "EQ, bands of other shapes, tied",
    "eq",
    {
      lowShelfGain: 4,
      lowShelfDip: 3,
      bell5Shape: "notch",
      bell6Shape: "tilt",
      bell6Gain: 3,
      bell7Ratio: 3,
      bell7Gain: -5,
      bell12Shape: "high shelf",
      bell12Gain: 4,
      widths: "narrower with gain",
    },
  ],
  ["compressor, peak", "compressor", { threshold: -30, knee: 12 }],
  [
    "compressor, RMS, no knee",
    "compressor",
    { threshold: -30, knee: 0, detector: "RMS", highPass: 100, mix: 60, makeup: 6 },
  ],
  [
    "compressor, held, of a range, both detectors",
    "compressor",
    { threshold: -30, hold: 0.03, range: 9, detector: "both", lowPass: 6000, tilt: 5 },
  ],
  [
    "compressor, backwards, by the programme",
    "compressor",
    { threshold: -36, works: "feedback", releases: "programme", knee: 10, ratio: 12 },
  ],
  ["compressor that looks ahead", "compressor", { threshold: -30, lookahead: 0.0031, attack: 0.003 }],
  ["compressor of the mid", "compressor", { threshold: -36, side: "mid", lookahead: 0.001 }],
  [
    "compressor of the side",
    "compressor",
    { threshold: -36, side: "side", makeup: 4, mix: 70, highPass: 120 },
  ],
  ["saturation, soft", "saturation", { drive: 12, even: 30 }],
  ["saturation, rounded", "saturation", { character: "rounded", mix: 50 }],
  ["saturation, hard", "saturation", { character: "hard", drive: 9 }],
  ["saturation at twice the rate", "saturation", { oversampling: "2 times", drive: 9 }],
  ["saturation at eight times the rate", "saturation", { oversampling: "8 times", drive: 9 }],
  ["band compressor, two bands", "bandCompressor", { threshold1: -34, makeup1: 4 }],
  [
    "band compressor, four bands, one backwards",
    "bandCompressor",
    {
      bands: "4",
      threshold1: -34,
      threshold2: -36,
      ratio2: 4,
      detector2: "RMS",
      threshold3: -40,
      ratio3: 2,
      hold3: 0.02,
      mix3: 60,
      threshold4: -40,
      ratio4: 6,
      releases4: "programme",
    },
  ],
  [
    "band compressor, one band alone",
    "bandCompressor",
    { bands: "3", hear: "band 2", threshold2: -40, ratio2: 5 },
  ],
  ["low harmonics", "lowHarmonics", { frequency: 180, fifth: -12, fundamental: -6 }],
  ["limiter", "limiter", { ceiling: -14, input: 6 }],
  ["limiter, quick", "limiter", { ceiling: -9, lookahead: 0.0005, release: 0.005, input: 12 }],
  ["clipper", "clipper", { ceiling: -12 }],
  ["clipper, hard, driven", "clipper", { ceiling: -9, input: 12, knee: 0, mix: 70, output: -3 }],
  ["clipper, all round", "clipper", { ceiling: -6, input: 6, knee: 100 }],
  ["harmonics, soft", "harmonics", { drive: 12 }],
  [
    "harmonics, rounded, even ones, of a band",
    "harmonics",
    { character: "rounded", drive: 14, odd: 60, even: 80, low: 150, high: 6000 },
  ],
  ["harmonics, hard, matched", "harmonics", { character: "hard", drive: 12, level: "matched", output: -2 }],
  [
    "harmonics, folded, at twice the rate",
    "harmonics",
    { character: "folded", drive: 20, oversampling: "2 times" },
  ],
  [
    "harmonics, one-sided, at eight times the rate",
    "harmonics",
    { character: "one-sided", drive: 12, oversampling: "8 times", tone: 9000 },
  ],
  [
    "harmonics, low-heavy, tone before, steep",
    "harmonics",
    { character: "low-heavy", toneBefore: 6, oversampling: "4 times, steep" },
  ],
  [
    "harmonics, tape-like, following attacks",
    "harmonics",
    { character: "tape-like", follows: "attacks", drive: 9 },
  ],
  [
    "harmonics, following tails at eight times the rate",
    "harmonics",
    { follows: "tails", followTime: 0.1, oversampling: "8 times" },
  ],
  ["air", "air", { drive: 18, even: 30, amount: 0 }],
  ["attack and sustain by level", "transient", { attack: 9, sustain: -12 }],
  [
    "attack and sustain, three bands, by level",
    "transient",
    { bands: "3", attack: 6, sustain: 8, attack2: -9, sustain2: -6, attack3: 12, output: 2 },
  ],
  [
    "attack and sustain by hits",
    "transient",
    { opens: "hits", attack: 7, sustain: -8, bands: "2", attack2: -6, sustain2: 9 },
  ],
  ["saturation by steep filters", "saturation", { oversampling: "4 times, steep", drive: 9 }],
];

/** Peak and rms of the difference between kernels and reference, dB against full scale. */
function difference(chain: ProcessorState[], input: Float32Array[], key: Float32Array[] | null = null) {
  const fast = processChain(chain, input, rate, hits, { key });
  const reference = processChain(chain, input, rate, hits, { key, scalar: true });
  let peak = 0;
  let sum = 0;
  let loudest = 0;
  fast.forEach((y, ch) =>
    y.forEach((v, i) => {
      const d = Math.abs(v - reference[ch]![i]!);
      peak = Math.max(peak, d);
      sum += d * d;
      loudest = Math.max(loudest, Math.abs(v));
    }),
  );
  return { peak: db(peak), rms: db(Math.sqrt(sum / (fast.length * fast[0]!.length))), loudest };
}

// The scalar processors are the reference; they are checked against published formulas in processors/*.test.ts.
describe("kernels give what the scalar reference processors give", () => {
  test.each(settings)("%s, one channel", (_, type, params) => {
    const { peak, rms, loudest } = difference([state(type, params)], [strokes(1)]);
    expect(loudest).toBeGreaterThan(0.05);
    expect(peak).toBeLessThan(-111);
    expect(rms).toBeLessThan(-130);
  });
  test.each(settings)("%s, two channels", (_, type, params) => {
    const { peak, rms } = difference([state(type, params)], [strokes(2), strokes(3)]);
    expect(peak).toBeLessThan(-111);
    expect(rms).toBeLessThan(-130);
  });
  test.each(settings.filter(([, type]) => ["gate", "dynamicEq", "compressor"].includes(type)))(
    "%s, keyed by another mic",
    (_, type, params) => {
      const { peak } = difference(
        [state(type, params)],
        [noise(rate, 5, 0.3)],
        [strokes(6).subarray(0, rate)],
      );
      expect(peak).toBeLessThan(-111);
    },
  );
  test("a whole chain", () => {
    const chain = settings
      .filter(([n]) => /fraction|level|everything|peak|soft/.test(n))
      .map(([, type, params]) => state(type, params));
    const { peak } = difference(chain, [strokes(8), strokes(9)]);
    expect(peak).toBeLessThan(-90); // a gate that opens one frame apart would be far above
  });
  test("every processor with a kernel is among them", () => {
    const tried = new Set(settings.map(([, type]) => type));
    expect(processorTypes.filter((p) => p.lanes && !tried.has(p.type))).toEqual([]);
  });
});
