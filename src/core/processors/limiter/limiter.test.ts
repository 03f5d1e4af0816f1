import { describe, expect, test } from "@jest/globals";
import { truePeak } from "../../measure/truePeak";
import { plainContext } from "../../processor";
import { resolveParams } from "../../params";
import { randomSource } from "../../signal/random";
import { run } from "../../testing/runProcessor";
import { noise, sine } from "../../testing/signals";
import { limiter } from ".";

const rate = 48000;
const latency = 240 + 12;
const db = (x: number) => 20 * Math.log10(x);

/** A short signal of any kind: noise with bursts, sines near the rate's quarter, squares, single frames. */
function anySignal(seed: number): Float32Array {
  const random = randomSource(seed);
  const x = new Float32Array(3000);
  const [level, frequency, phase] = [0.5 + 3 * random(), 20 + 23000 * random() ** 2, 6.28 * random()];
  const kind = Math.floor(4 * random());
  for (let i = 200; i < 2600; i++) {
    const tone = Math.sin((2 * Math.PI * frequency * i) / rate + phase);
    if (kind === 0) x[i] = level * (2 * random() - 1);
    else if (kind === 1) x[i] = level * tone * Math.exp(-(i - 200) / 600);
    else if (kind === 2) x[i] = level * Math.sign(tone);
    else if (random() < 0.01) x[i] = level * (2 * random() - 1);
  }
  return x;
}

describe("limiter", () => {
  // Tolerance of the work; the measure is ITU-R BS.1770-5, annex 2.
  test("the true peak of a thousand random signals is nowhere more than 0.1 dB over the ceiling", () => {
    let worst = -Infinity;
    for (let seed = 1; seed <= 1000; seed++) {
      const lookahead = [0.0005, 0.0015, 0.005][seed % 3]!;
      const [y] = run(limiter, { ceiling: -3, release: 0.02, lookahead }, anySignal(seed));
      worst = Math.max(worst, db(truePeak(y!)) + 3);
    }
    expect(worst).toBeLessThan(0.1);
  });

  test("what stays under the ceiling passes to the bit, and comes to it again behind a peak", () => {
    const x = noise(60000, 5, 0.1);
    expect(run(limiter, {}, x)[0]!.slice(latency)).toEqual(x.slice(0, -latency));
    x[3000] = 3;
    const y = run(limiter, { release: 0.02 }, x)[0]!;
    expect(y.slice(latency, 2900 + latency)).toEqual(x.slice(0, 2900));
    expect(y.slice(30000 + latency)).toEqual(x.slice(30000, -latency));
  });

  test("release gives 63 % back in its time", () => {
    const x = new Float32Array(rate).fill(0.01);
    x.fill(1, 4800, 9600);
    const y = run(limiter, { ceiling: -20, release: 0.1, lookahead: 0.0005 }, x)[0]!;
    const gain = (i: number) => -db(y[i + latency]! / x[i]!);
    const full = gain(9500);
    expect(full).toBeCloseTo(20, 1);
    expect(gain(9600 + Math.round(0.1 * rate))).toBeCloseTo(full / Math.E, 0);
  });

  test("both channels keep their place: one gain for the pair", () => {
    const p = limiter.create();
    p.prepare({ sampleRate: rate, channels: 2, maxFrames: 4800 });
    p.set(resolveParams(limiter.params, { ceiling: -6 }));
    p.reset();
    const [a, b] = [sine(300, 1, 0.1), sine(300, 0.25, 0.1)];
    const out = [new Float32Array(4800), new Float32Array(4800)];
    p.process([a, b], out, 4800, plainContext());
    for (let i = 1000; i < 4800; i++) expect(out[1]![i]).toBeCloseTo(0.25 * out[0]![i]!, 6);
  });
});
