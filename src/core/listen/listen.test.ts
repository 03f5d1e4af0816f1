import { describe, expect, test } from "@jest/globals";
import { measureLoudness } from "../measure/loudness";
import { noise } from "../testing/signals";
import { ClickTrack } from "./click";
import { KitMeters } from "./kitMeters";
import { plainMonitor } from "./listening";
import { LoopLoudness } from "./loopLoudness";
import { Monitor } from "./monitor";
import { TimeStretch } from "./timeStretch";

const rate = 48000;
const n = 128;
const sine = (frames: number, hz: number, peak: number) =>
  Float32Array.from({ length: frames }, (_, i) => peak * Math.sin((2 * Math.PI * hz * i) / rate));
const dbfs = (db: number) => Math.pow(10, db / 20);
const each = (frames: number, work: (at: number) => void) => {
  for (let at = 0; at + n <= frames; at += n) work(at);
};

describe("loudness over a loop", () => {
  // EBU Tech 3341, case 1: a stereo sine of 1 kHz at -23 dBFS reads -23.0 LUFS +-0.1.
  test("reads EBU Tech 3341 case 1", () => {
    const x = sine(20 * rate, 1000, dbfs(-23));
    const loop = new LoopLoudness(rate, n);
    each(x.length, (at) => loop.add([x.subarray(at, at + n), x.subarray(at, at + n)], n, at));
    expect(Math.abs(loop.measure(null) - -23)).toBeLessThan(0.1);
  });
  // EBU Tech 3341, case 3: -36 dBFS for 10 s, -23 for 60 s, -36 for 10 s; the gate leaves the quiet parts out.
  test("gates as EBU Tech 3341 case 3 asks", () => {
    const x = new Float32Array(50 * rate);
    x.set(sine(10 * rate, 1000, dbfs(-36)));
    x.set(sine(30 * rate, 1000, dbfs(-23)), 10 * rate);
    x.set(sine(10 * rate, 1000, dbfs(-36)), 40 * rate);
    const loop = new LoopLoudness(rate, n);
    each(x.length, (at) => loop.add([x.subarray(at, at + n), x.subarray(at, at + n)], n, at));
    expect(Math.abs(loop.measure({ from: 0, to: x.length }) - -23)).toBeLessThan(0.1);
    expect(Math.abs(loop.measure({ from: 0, to: 9 * rate }) - -36)).toBeLessThan(0.1);
  });
  test("agrees with the offline measurement on noise, and follows when the loop is played anew and louder", () => {
    const x = noise(8 * rate, 3, 0.2);
    const loop = new LoopLoudness(rate, n);
    each(x.length, (at) => loop.add([x.subarray(at, at + n)], n, at));
    expect(loop.measure({ from: 0, to: x.length })).toBeCloseTo(measureLoudness([x], rate).integrated, 1);
    const louder = x.map((v) => 2 * v);
    each(x.length, (at) => loop.add([louder.subarray(at, at + n)], n, at));
    expect(loop.measure({ from: 0, to: x.length })).toBeCloseTo(
      measureLoudness([louder], rate).integrated,
      1,
    );
  });
  test("knows nothing before it has heard 400 ms", () => {
    const loop = new LoopLoudness(rate, n);
    expect(loop.measure(null)).toBe(-Infinity);
  });
});

describe("meters of the kit", () => {
  const run = (left: Float32Array, right: Float32Array) => {
    const meters = new KitMeters(rate, n);
    each(left.length, (at) => meters.add([left.subarray(at, at + n), right.subarray(at, at + n)]));
    return meters;
  };
  test("momentary and short-term loudness of EBU Tech 3341 case 1", () => {
    const x = sine(6 * rate, 1000, dbfs(-23));
    const meters = run(x, x);
    expect(Math.abs(meters.momentary - -23)).toBeLessThan(0.1);
    expect(Math.abs(meters.shortTerm - -23)).toBeLessThan(0.1);
  });
  // A sine of fs/4 at 45 degrees, as the true-peak signals of EBU Tech 3341 are made, 0.5 sample peak of 0.707 of the true one.
  test("true peak between samples", () => {
    const x = Float32Array.from({ length: rate }, (_, i) => 0.5 * Math.sin((Math.PI * i) / 2 + Math.PI / 4));
    expect(Math.abs(20 * Math.log10(run(x, x).takePeak() / 0.5))).toBeLessThan(0.2);
  });
  test("correlation: alike 1, turned over -1, unrelated near 0, silent 0", () => {
    const a = noise(rate, 1, 0.5);
    expect(run(a, a).correlation).toBeCloseTo(1, 3);
    expect(
      run(
        a,
        a.map((v) => -v),
      ).correlation,
    ).toBeCloseTo(-1, 3);
    expect(Math.abs(run(a, noise(rate, 2, 0.5)).correlation)).toBeLessThan(0.1);
    expect(run(new Float32Array(rate), new Float32Array(rate)).correlation).toBe(0);
  });
});

describe("ways of listening", () => {
  const listen = (settings: Partial<typeof plainMonitor>, left: Float32Array, right: Float32Array) => {
    const monitor = new Monitor(rate, n);
    monitor.set({ ...plainMonitor, ...settings });
    const out = [left.slice(), right.slice()];
    each(left.length, (at) =>
      monitor.process(
        out.map((x) => x.subarray(at, at + n)),
        n,
      ),
    );
    return out.map((x) => x.subarray(x.length / 2));
  };
  const rms = (x: Float32Array) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length);
  const a = noise(rate, 5, 0.3);
  const b = noise(rate, 6, 0.3);
  test("plain listening changes no sample", () => {
    const [left] = listen({}, a, b);
    expect(left!.every((v, i) => v === a[a.length / 2 + i])).toBe(true);
  });
  test("mono is the mean of both sides; swapped sides are swapped; dimmed is 20 dB down", () => {
    const [left, right] = listen({ mono: true }, a, b);
    expect(Math.max(...left!.map((v, i) => Math.abs(v - right![i]!)))).toBe(0);
    expect(Math.abs(left![100]! - 0.5 * (a[rate / 2 + 100]! + b[rate / 2 + 100]!))).toBeLessThan(1e-4);
    const [swapped] = listen({ swapped: true }, a, b);
    expect(Math.abs(swapped![7]! - b[rate / 2 + 7]!)).toBeLessThan(1e-4);
    const [dimmed] = listen({ dimmed: true }, a, b);
    expect(20 * Math.log10(rms(dimmed!) / rms(a.subarray(rate / 2)))).toBeCloseTo(-20, 1);
  });
  test("a small loudspeaker gives no bass and keeps the middle", () => {
    const low = sine(rate, 60, 0.5);
    const mid = sine(rate, 1000, 0.5);
    expect(20 * Math.log10(rms(listen({ small: true }, low, low)[0]!) / rms(low))).toBeLessThan(-40);
    expect(20 * Math.log10(rms(listen({ small: true }, mid, mid)[0]!) / rms(mid))).toBeGreaterThan(-0.5);
  });
});

describe("click", () => {
  test("sounds on the beats only, higher on the first of a bar, whatever the blocks", () => {
    const click = new ClickTrack(rate);
    click.set(Float64Array.from([1000, 13000, 25000, 37000, 49000]), [true, false, false, false, true]);
    const out = new Float32Array(60000);
    for (let at = 0; at + n <= out.length; at += n) click.add([out.subarray(at, at + n)], n, at);
    const crossings = (from: number) => {
      let count = 0;
      for (let i = from + 1; i < from + 900; i++) if (out[i - 1]! < 0 !== out[i]! < 0) count++;
      return count;
    };
    expect(out.subarray(0, 1000).every((v) => v === 0)).toBe(true);
    expect(Math.max(...out.subarray(13000, 14440))).toBeGreaterThan(0.2);
    expect(out.subarray(2440, 13000).every((v) => v === 0)).toBe(true);
    expect(crossings(1000)).toBeGreaterThan(1.2 * crossings(13000));
    expect(crossings(49000)).toBe(crossings(1000));
  });
});

describe("half speed", () => {
  const stretched = (x: Float32Array): Float32Array => {
    const stretch = new TimeStretch();
    const out: number[] = [];
    const block = [new Float32Array(n), new Float32Array(n)];
    each(x.length, (at) => {
      stretch.push([x.subarray(at, at + n), x.subarray(at, at + n)], n);
      while (stretch.ready >= n) {
        stretch.pull(block, n);
        out.push(...block[0]!);
      }
    });
    return Float32Array.from(out);
  };
  test("is twice as long and keeps the pitch", () => {
    const x = sine(2 * rate, 440, 0.5);
    const y = stretched(x);
    expect(y.length / x.length).toBeGreaterThan(1.95);
    expect(y.length / x.length).toBeLessThan(2.01);
    let crossings = 0;
    for (let i = 9601; i < 9600 + rate; i++) if (y[i - 1]! < 0 !== y[i]! < 0) crossings++;
    expect(Math.abs(crossings / 2 - 440)).toBeLessThan(3);
  });
  test("keeps the level", () => {
    const x = noise(2 * rate, 8, 0.3);
    const y = stretched(x).subarray(4800);
    const rms = (z: Float32Array) => Math.sqrt(z.reduce((s, v) => s + v * v, 0) / z.length);
    expect(Math.abs(20 * Math.log10(rms(y) / rms(x)))).toBeLessThan(1.5);
  });
});
