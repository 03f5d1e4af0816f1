import { describe, expect, test } from "@jest/globals";
import { designButterworth, filtered } from "../signal/biquad";
import { thirdOctaves } from "../measure/thirdOctaves";
import { noise } from "../testing/signals";
import { testSong } from "../testing/songs";
import { besideRecord, largestDifferences, loudestFrom, tonalityOf } from "./besideRecord";

const rate = 48000;

describe("laid over each other", () => {
  const x = noise(5 * rate, 3);
  test("how loud one of them is plays no part", () => {
    const soft = x.map((v) => v / 8);
    const [a, b] = [tonalityOf([x], rate), tonalityOf([soft], rate)];
    expect(a.integrated - b.integrated).toBeCloseTo(18.06, 1);
    a.bands.forEach((level, i) => expect(level - b.bands[i]!).toBeCloseTo(0, 1));
    expect(a.crestDb).toBeCloseTo(b.crestDb, 3);
    expect(a.lowDb).toBeCloseTo(b.lowDb, 3);
  });
  test("what a filter takes is seen where it takes it", () => {
    const dull = filtered(x, designButterworth("low", 2000, 4, rate));
    const [a, b] = [tonalityOf([x], rate), tonalityOf([dull], rate)];
    // A Butterworth low-pass of fourth order by the bilinear transform, far above its corner; over the band it is somewhat less than in its middle.
    const at = 24;
    const middle =
      80 * Math.log10(Math.tan((Math.PI * thirdOctaves[at]!) / rate) / Math.tan((Math.PI * 2000) / rate));
    expect(Math.abs(a.bands[at]! - b.bands[at]! + (a.integrated - b.integrated) - middle)).toBeLessThan(1.5);
    expect(b.lowDb).toBeGreaterThan(a.lowDb + 3);
  });
  test("the low end of white noise is its share of the band", () => {
    // 120 of 24,000 Hz; a Butterworth of fourth order lets 2.6 % more through than a wall would.
    expect(tonalityOf([noise(30 * rate, 4)], rate).lowDb).toBeCloseTo(
      10 * Math.log10((120 * 1.026) / 24000),
      0,
    );
  });
});

test("the largest differences are told, ascending; small ones and what is not heard are not", () => {
  const flat = new Array<number>(28).fill(-20);
  const other = flat.map(
    (v, i) => v + (({ 0: 5, 3: -4, 10: 2.9, 15: 8, 20: -3, 27: 3.5 } as Record<number, number>)[i] ?? 0),
  );
  // The five that reach 3 dB, without the least of them; band 15 of the standard is 1 kHz.
  expect(largestDifferences(other, flat).map((d) => [Math.round(d.frequency), d.by])).toEqual([
    [32, 5],
    [63, -4],
    [1000, 8],
    [15849, 3.5],
  ]);
  expect(
    largestDifferences(
      flat.map(() => -150),
      flat.map(() => -120),
    ),
  ).toEqual([]);
});

test("a record is taken where it is loudest", () => {
  const x = noise(60 * rate, 1).map((v, i) => (i >= 20 * rate && i < 30 * rate ? v : v / 10));
  expect(loudestFrom([x], rate, 10)).toBe(20 * rate);
  expect(loudestFrom([x.subarray(0, rate * 3)], rate, 10)).toBe(0);
});

test("the record is no part of the kit", () => {
  const { song, audio } = testSong(48000);
  const record = { ...song.mics[0]!, id: "record", file: "Record.wav", piece: "context" as const };
  const more = { ...song, mics: [...song.mics, record], referenceRecord: "record" };
  const loud = noise(48000, 9);
  const { kit } = besideRecord(more, [...audio, [loud]], 0, [loud]);
  const alone = besideRecord(song, audio, 0, [loud]);
  expect(kit).toEqual(alone.kit);
});
