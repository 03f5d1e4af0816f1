import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { Told } from "../testing/told";
import { designButterworth, filtered } from "./biquad";
import { FilteredSamples } from "./filteredSamples";
import { RealFft } from "./fft";
import { energyOf, peakOf } from "./level";
import { behind, pieceFrames, piecesOf, readAhead, stretchOf } from "./samples";

const x = noise(3 * pieceFrames + 1234, 1);
const told = new Told(x);
const same = (a: Float32Array, b: Float32Array): void => {
  expect(a.length).toBe(b.length);
  expect(a.findIndex((v, i) => v !== b[i])).toBe(-1);
};

describe("a signal that is told in stretches is read as one in memory", () => {
  test.each([
    ["inside", 1000, 500],
    ["before the beginning", -700, 500],
    ["over the beginning", -200, 500],
    ["over the end", x.length - 100, 500],
    ["behind the end", x.length + 100, 500],
    ["nothing", 10, 0],
  ])("stretches %s", (_, from, count) => {
    const wanted = Float32Array.from({ length: count }, (_, i) => x[from + i] ?? 0);
    same(stretchOf(told, from, count), wanted);
    same(stretchOf(x, from, count), wanted);
  });
  test("piece by piece it is the whole", () => {
    const whole = new Float32Array(x.length);
    for (const { at, piece } of piecesOf(told)) whole.set(piece, at);
    same(whole, x);
    expect([...piecesOf(x)]).toEqual([{ at: 0, piece: x }]);
  });
  test("from a frame on", () => {
    const [a, b] = [behind(told, 77), behind(x, 77)];
    expect(a.length).toBe(b.length);
    same(a.subarray(5, 900), b.subarray(5, 900));
    same(a.subarray(a.length - 5), b.subarray(b.length - 5));
    expect(behind(told, x.length + 5).length).toBe(0);
  });
  test("read ahead, it is asked for in pieces, and larger stretches come whole", () => {
    const counted = new Told(x);
    let asked = 0;
    const reader = readAhead({
      length: x.length,
      subarray: (from, to) => (asked++, counted.subarray(from, to)),
    });
    for (let at = 0; at < x.length; at += 100) same(reader.subarray(at, at + 300), x.subarray(at, at + 300));
    expect(asked).toBeLessThan(8);
    same(reader.subarray(50), x.subarray(50));
    same(reader.subarray(9, 99), x.subarray(9, 99));
  });
  test("its peak and its energy, whole and within frames", () => {
    const largest = (part: Float32Array) => Math.max(...part.map(Math.abs));
    for (const [from, to] of [
      [-5, 40],
      [7, 90_000],
      [x.length - 5, x.length + 40],
    ]) {
      const part = x.slice(Math.max(0, from!), to);
      expect(peakOf(told, from, to)).toBe(largest(part));
      expect(energyOf(told, from, to)).toBeCloseTo(
        part.reduce((sum, v) => sum + v * v, 0),
        6,
      );
    }
    expect(peakOf(told)).toBe(peakOf(x));
    expect(energyOf(told)).toBe(energyOf(x));
  });
  test.each([-100, 0, 1000, x.length - 100, x.length + 100])("its spectrum from frame %i on", (from) => {
    const fft = RealFft.of(512);
    const [a, b] = [fft.spectrum(), fft.spectrum()];
    fft.forward(told, from, 400, a);
    fft.forward(x, from, 400, b);
    expect(a).toEqual(b);
  });
});

describe("a signal filtered as far as it is asked for", () => {
  const sections = designButterworth("high", 120, 4, 48000);
  const whole = filtered(x, sections);

  test("is to the bit what it is as a whole, forwards in small steps and in leaps", () => {
    for (const step of [1000, 50_000]) {
      const y = new FilteredSamples(told, sections);
      for (let at = 0; at < x.length; at += step)
        same(y.subarray(at, at + 700), whole.subarray(at, at + 700));
    }
    same(new FilteredSamples(told, sections).subarray(0), whole);
  });
  test("a little back, and all the way back", () => {
    const y = new FilteredSamples(told, sections);
    const end = x.length - 10;
    for (const at of [end, end - 2000, end - pieceFrames, 0, 100, end])
      same(y.subarray(at, at + 10), whole.subarray(at, at + 10));
    expect(y.subarray(x.length + 5, x.length + 50).length).toBe(0);
  });
  test("takes little of it at once", () => {
    const counted = new Told(x);
    const y = new FilteredSamples(counted, sections);
    y.subarray(x.length - 10);
    expect(counted.most).toBeLessThanOrEqual(pieceFrames);
  });
});
