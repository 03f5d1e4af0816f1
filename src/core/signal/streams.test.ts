import { describe, expect, test } from "@jest/globals";
import { noise, sine, levelAt } from "../testing/signals";
import { DelayLine, WaitLine } from "./delayLine";
import { HitCursor } from "./hitCursor";
import { MovingFilter } from "./movingFilter";
import { peakBetween, halfTaps } from "./peakBetween";
import { randomSource } from "./random";
import { RecentFrames } from "./recentFrames";
import { SlidingMax } from "./slidingMax";
import { SmoothedCurve, type Curve } from "./smoothedCurve";

/** Runs a stream through in blocks of lengths that change. */
function inBlocks(x: Float32Array, work: (block: Float32Array) => void): Float32Array {
  const y = Float32Array.from(x);
  const random = randomSource(3);
  for (let at = 0; at < y.length;) {
    const count = Math.min(y.length - at, 1 + Math.floor(200 * random()));
    work(y.subarray(at, at + count));
    at += count;
  }
  return y;
}

describe("delays by whole frames", () => {
  const x = noise(3000, 1);
  test.each([0, 1, 7, 128, 777])(
    "by %d, whatever the blocks are: what came in so long ago, silence before",
    (late) => {
      const line = new DelayLine(late);
      const y = inBlocks(x, (b) => line.process(b, b, b.length));
      y.forEach((v, i) => expect(v).toBe(i < late ? 0 : x[i - late]));
      line.reset();
      const z = new Float32Array(10);
      line.process(x, z, 10);
      expect([...z]).toEqual(Array.from({ length: 10 }, (_, i) => (i < late ? 0 : x[i - late])));
    },
  );
  test("set while it runs, the new delay holds from the next frame on", () => {
    const line = new WaitLine(50);
    const y = Float32Array.from(x);
    for (let at = 0; at < y.length; at += 10) {
      line.frames = (at / 10) % 51;
      line.process(y.subarray(at, at + 10), 10);
    }
    for (let i = 0; i < y.length; i++) {
      const late = Math.floor(i / 10) % 51;
      expect(y[i]).toBe(i < late ? 0 : x[i - late]);
    }
    line.reset();
    line.frames = 5;
    const z = x.slice(0, 5);
    line.process(z, 5);
    expect([...z]).toEqual([0, 0, 0, 0, 0]);
  });
  test("the last frames of a stream, the oldest first", () => {
    const recent = new RecentFrames(64);
    let seen = 0;
    inBlocks(x, (b) => {
      recent.take(b, b.length);
      seen += b.length;
      recent.frames.forEach((v, i) => expect(v).toBe(x[seen - 64 + i] ?? 0));
    });
    recent.reset();
    expect(recent.frames.every((v) => v === 0)).toBe(true);
  });
});

describe("largest of the last values", () => {
  test.each([1, 2, 5, 100, 1000])(
    "of %d: as the slow way has it, at any length that changes on the way",
    (longest) => {
      const x = Array.from(noise(4000, longest), (v) => Math.abs(v));
      const max = new SlidingMax(longest);
      const random = randomSource(longest);
      let length = longest;
      x.forEach((v, i) => {
        // A window that grows again knows no more than it has kept: it only shrinks here.
        if (i % 500 === 499) length = Math.max(1, Math.floor(length * (0.5 + 0.5 * random())));
        expect(max.next(v, length)).toBe(Math.max(...x.slice(Math.max(0, i - length + 1), i + 1)));
      });
    },
  );
  test("falling, rising and equal values, and a new start", () => {
    const max = new SlidingMax(3);
    expect([5, 4, 3, 2, 1].map((v) => max.next(v, 3))).toEqual([5, 5, 5, 4, 3]);
    expect([1, 2, 3].map((v) => max.next(v, 3))).toEqual([2, 2, 3]);
    expect([3, 3, 0, 0, 0].map((v) => max.next(v, 3))).toEqual([3, 3, 3, 3, 0]);
    max.reset();
    expect(max.next(-7, 3)).toBe(-7);
  });
  test("what is no number does not stay for ever", () => {
    const max = new SlidingMax(4);
    for (let i = 0; i < 100; i++) max.next(NaN, 4);
    for (let i = 0; i < 8; i++) max.next(1, 4);
    expect(max.next(2, 4)).toBe(2);
  });
});

describe("strokes along a stream", () => {
  const hits = Float64Array.from({ length: 200 }, (_, i) => i * 37 + (i % 5));
  const slow = (position: number) => hits.reduce((n, h) => (h <= position ? n + 1 : n), 0) - 1;
  test("the latest is found walking on, after jumps both ways, and before the first", () => {
    const cursor = new HitCursor();
    const random = randomSource(5);
    let position = -50;
    for (let n = 0; n < 3000; n++) {
      position = random() < 0.05 ? Math.floor(9000 * random()) - 100 : position + Math.floor(20 * random());
      expect(cursor.latestIndex(hits, position)).toBe(slow(position));
    }
    expect(cursor.latest(hits, -1)).toBe(-Infinity);
    expect(cursor.latest(hits, 0)).toBe(0);
    expect(cursor.latest(new Float64Array(0), 1000)).toBe(-Infinity);
  });
  test("strokes that were taken out meanwhile are not remembered", () => {
    const cursor = new HitCursor();
    expect(cursor.latestIndex(hits, 7000)).toBe(slow(7000));
    expect(cursor.latestIndex(hits.subarray(0, 3), 7000)).toBe(2);
  });
});

describe("peak between two frames", () => {
  // A sine of a quarter of the rate with its crests between the frames: the frames show 3.01 dB less (BS.1770-5, annex 2, its example).
  test("a quarter of the rate, 45 degrees off: 3.01 dB more than the frames show", () => {
    const x = Float32Array.from({ length: 400 }, (_, i) => Math.sin((Math.PI / 2) * i + Math.PI / 4));
    const shown = Math.max(...x.map(Math.abs));
    let most = 0;
    for (let at = 100; at < 200; at++) most = Math.max(most, peakBetween(x, at));
    expect(20 * Math.log10(most / shown)).toBeCloseTo(3.01, 1);
  });
  test("silence has none, and a single frame none above itself", () => {
    const x = new Float32Array(100);
    expect(peakBetween(x, 10)).toBe(0);
    x[50] = 1;
    for (let at = 0; at + 2 * halfTaps <= 100; at++) expect(peakBetween(x, at)).toBeLessThan(1);
  });
});

describe("a filter that moves", () => {
  const rate = 48000;
  const gainAt = (
    hz: number,
    shape: "bell" | "low shelf" | "high shelf",
    db: number,
    centre = 1000,
    q = 0.9,
  ): number => {
    const filter = new MovingFilter();
    filter.set(shape, Math.tan((Math.PI * centre) / rate), 1 / q);
    filter.moveTo(db);
    const x = sine(hz, 0.5, 1);
    const y = x.map((v) => filter.run(v, 0));
    return levelAt(y.subarray(rate / 2), hz, rate) - levelAt(x.subarray(rate / 2), hz, rate);
  };
  test.each([12, 3, -6, -18])(
    "at %d dB a bell has it in the middle and nothing far away; shelves have it on their side and half in the middle",
    (db) => {
      expect(gainAt(1000, "bell", db)).toBeCloseTo(db, 1);
      expect(gainAt(30, "bell", db)).toBeCloseTo(0, 1);
      // W3C Audio EQ Cookbook: a shelf has half of its decibels at its own frequency.
      expect(gainAt(1000, "low shelf", db)).toBeCloseTo(db / 2, 1);
      expect(gainAt(1000, "high shelf", db)).toBeCloseTo(db / 2, 1);
      expect(gainAt(25, "low shelf", db)).toBeCloseTo(db, 1);
      expect(gainAt(20000, "high shelf", db)).toBeCloseTo(db, 1);
      expect(gainAt(20000, "low shelf", db)).toBeCloseTo(0, 1);
    },
  );
  test("moved from end to end at every frame it stays finite, and comes to rest at nothing", () => {
    const filter = new MovingFilter();
    filter.set("bell", Math.tan((Math.PI * 200) / rate), 0.5);
    const x = noise(20000, 8, 0.9);
    let most = 0;
    x.forEach((v, i) => {
      filter.moveTo(i % 2 ? 24 : -48);
      most = Math.max(most, Math.abs(filter.run(v, 1)));
    });
    expect(most).toBeLessThan(100);
    let last = 1;
    for (let i = 0; i < 3 * rate; i++) last = filter.run(0, 1);
    expect(last).toBe(0);
  });
});

describe("a curve that is smoothed", () => {
  // x^3 and its integrals: the smoothed value of a ramp has a closed form.
  const cube: Curve = {
    begin: 0,
    value: (x) => x ** 3,
    first: (x) => x ** 4 / 4,
    second: (x) => x ** 5 / 20,
  };
  test("of a constant it is the curve, one sample late", () => {
    const smoothed = new SmoothedCurve();
    const y = Array.from({ length: 6 }, () => smoothed.next(0.7, cube));
    for (const v of y.slice(2)) expect(v).toBeCloseTo(0.343, 9);
  });
  test("of a slow ramp it is the curve one sample ago, with what a triangle adds: f'' h² / 12", () => {
    const smoothed = new SmoothedCurve();
    const step = 0.01;
    for (let i = 0; i < 100; i++) {
      const y = smoothed.next(i * step, cube);
      if (i < 3) continue;
      const at = (i - 1) * step;
      expect(y).toBeCloseTo(at ** 3 + (6 * at * step ** 2) / 12, 8);
    }
  });
  test("values that hardly move lose nothing to rounding", () => {
    const smoothed = new SmoothedCurve();
    for (let i = 0; i < 50; i++) smoothed.next(0.5 + 1e-9 * (i % 3), cube);
    expect(smoothed.next(0.5, cube)).toBeCloseTo(0.125, 6);
    smoothed.reset();
    expect(smoothed.next(0, cube)).toBe(0);
  });
  test("below where it begins a curve gives exact nothing", () => {
    const dead: Curve = {
      begin: 0.5,
      value: (x) => Math.max(0, Math.abs(x) - 0.5),
      first: () => NaN,
      second: () => NaN,
    };
    const smoothed = new SmoothedCurve();
    for (const x of [0.1, -0.5, 0.5, 0.3]) expect(smoothed.next(x, dead)).toBe(0);
  });
});
