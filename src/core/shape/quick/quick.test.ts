import { describe, expect, test } from "@jest/globals";
import { designEq } from "../../processors/eq/eq";
import { processorType } from "../../processors";
import { resolveParams } from "../../params";
import { responseDb } from "../../signal/biquad";
import { limits } from "../../song/limits";
import { applyOperation } from "../../song/operations";
import { addedProcessor } from "../../song/chainEdits";
import type { Owner } from "../../song/graph";
import type { QuickState, QuickValues, Song } from "../../song/song";
import { noise } from "../../testing/signals";
import { testSong } from "../../testing/songs";
import { reelOf, through } from "../reel";
import { strokeLoudness } from "../strokeLoudness";
import { quickBasis, quickChain, quickLouder, untouched } from "./quickBasis";
import { louderTogether, quickReach, quickSettings } from "./quickRules";
import { giveBack, ownParts, quickId, turnQuick, withoutQuick } from "./turnQuick";

const rate = 48000;
const onsets = Array.from({ length: 20 }, (_, i) => Math.round((0.3 + 0.5 * i) * rate));
/** A drum: a tone at 62 Hz, a click, a little hiss. */
const drum = ((): Float32Array => {
  const x = noise(11 * rate, 5, 1e-4);
  for (const [k, o] of onsets.entries())
    for (let i = 0; i < 0.3 * rate; i++) {
      const s = i / rate;
      const tone = Math.sin(2 * Math.PI * 62 * s) * Math.exp(-s / 0.08);
      const click = 0.4 * Math.sin(2 * Math.PI * 5657 * s) * Math.exp(-s / 0.01);
      x[o + i]! += (0.2 + 0.1 * (k % 3)) * (tone + click);
    }
  return x;
})();
const basis = quickBasis(drum, onsets, { piece: "kick", fundamental: 62, sampleRate: rate })!;
/** The controls as they are while they are turned: loudness by each alone. */
const at = (values: QuickValues): QuickState => ({ values, basis, louder: louderTogether(values, basis) });
const eqAt = (values: QuickValues, frequency: number): number => {
  const eq = quickChain(quickSettings(at(values)), true)[0]!;
  return responseDb(designEq(resolveParams(processorType("eq").params, eq.params), rate), frequency, rate);
};

describe("what the controls set", () => {
  test("nothing where none was turned", () => {
    for (const frequency of [40, 62, 500, 5657, 12000]) expect(eqAt(untouched, frequency)).toBeCloseTo(0, 6);
    const { level, density } = quickSettings(at(untouched));
    expect(level.compressor!["makeup"]).toBeCloseTo(0, 9);
    expect(density.compressor!["ratio"]).toBe(1);
  });
  test("weight lifts or cuts where the drum was found to sound, stick where its stick is, air above", () => {
    for (const sign of [1, -1]) {
      const turned = (control: string, by = 100) => ({ ...untouched, [control]: sign * by });
      expect(eqAt(turned("weight"), 62)).toBeCloseTo(sign * quickReach.weight, 1);
      expect(eqAt(turned("weight", 50), 62)).toBeCloseTo((sign * quickReach.weight) / 2, 1);
      expect(Math.abs(eqAt(turned("weight"), 2000))).toBeLessThan(0.1);
      expect(eqAt(turned("stick"), basis.stick)).toBeCloseTo(sign * quickReach.stick, 1);
      expect(eqAt(turned("air"), 19000)).toBeCloseTo(sign * quickReach.air, 0);
    }
    expect(basis.stick).toBeGreaterThan(4000);
    expect(basis.stick).toBeLessThan(8000);
  });
  test("density takes more of the strokes the further it is turned; under 0 it takes their tails instead", () => {
    const dense = (density: number) => quickSettings(at({ ...untouched, density })).density;
    const [a, b] = [dense(40).compressor!, dense(90).compressor!];
    expect(b["threshold"] as number).toBeLessThan(a["threshold"] as number);
    expect(b["ratio"] as number).toBeGreaterThan(a["ratio"] as number);
    expect(dense(-100)).toMatchObject({
      transient: { sustain: quickReach.sustain },
      compressor: { ratio: 1 },
    });
    expect(dense(100).transient!["sustain"]).toBeCloseTo(0, 9);
  });
  test("each alone leaves the strokes as loud as they come in, all together as soon as they rest", () => {
    const reel = reelOf(
      drum,
      onsets.map((o) => o / rate),
      rate,
      16,
    );
    const loudness = (r: typeof reel) => strokeLoudness(r.audio, r.onsets, rate).whole;
    const change = (state: QuickState) =>
      loudness(quickChain(quickSettings(state), true).reduce((r, s) => through(s, r), reel)) - loudness(reel);
    for (const control of ["weight", "stick", "air", "density"] as const)
      for (const value of [-100, -70, 30, 80, 100])
        expect(Math.abs(change(at({ ...untouched, [control]: value })))).toBeLessThan(0.35);
    const all = { weight: 60, stick: 40, air: -30, density: 70 };
    expect(Math.abs(change(at(all)))).toBeLessThan(2.5); // while they are turned
    expect(
      Math.abs(change({ ...at(all), louder: quickLouder(drum, onsets, rate, all, basis) })),
    ).toBeLessThan(0.1);
  });
  test("without strokes there is nothing to place them by", () => {
    expect(quickBasis(drum, [], { piece: null, fundamental: null, sampleRate: rate })).toBeNull();
  });
});

describe("turned in a song", () => {
  const { song: plain } = testSong();
  const snare = (song: Song): Owner => song.mics[1]!;
  const turn = (song: Song, values: Partial<QuickValues>) =>
    applyOperation(song, turnQuick(song, snare(song), at({ ...untouched, ...values })));
  const paramsOf = (song: Song, type: "eq" | "transient" | "compressor") =>
    snare(song).chain.find((p) => p.id === quickId("snare", type))!;
  const set = (song: Song, type: "eq" | "compressor", params: Record<string, number>): Song =>
    applyOperation(song, { op: "setProcessor", owner: "snare", processor: quickId("snare", type), params })
      .song;
  const { song, inverse } = turn(plain, { weight: 50, density: 40 });

  test("real processors stand at the end of the chain, and one step takes all back", () => {
    expect(
      snare(song)
        .chain.slice(-4)
        .map((p) => p.type),
    ).toEqual(["eq", "transient", "compressor", "pan"]);
    expect(paramsOf(song, "eq").params["bell1Gain"]).toBeCloseTo(quickReach.weight / 2, 9);
    expect(paramsOf(song, "transient").on).toBe(false); // costs nothing while nothing asks for it
    expect(applyOperation(song, inverse).song).toEqual(plain);
    expect(applyOperation(song, withoutQuick(song, snare(song))).song).toEqual(plain);
  });
  test("what was set by hand stays so and is told, whatever is turned; what was not goes along", () => {
    expect(ownParts(song, snare(song))).toEqual([]);
    const mine = set(song, "eq", { bell1Gain: 1.5 });
    expect(ownParts(mine, snare(mine))).toEqual(["weight"]);
    const { song: turned } = turn(mine, { weight: 90, air: 50, density: 40 });
    expect(paramsOf(turned, "eq").params).toMatchObject({
      bell1Gain: 1.5,
      highShelfGain: quickReach.air / 2,
    });
    const back = applyOperation(turned, giveBack(turned, snare(turned), "weight")).song;
    expect(paramsOf(back, "eq").params["bell1Gain"]).toBeCloseTo(0.9 * quickReach.weight, 9);
    expect(ownParts(back, snare(back))).toEqual([]);
  });
  test("a processor that was switched off or taken out is the user's, and comes back when it is given back", () => {
    const off = applyOperation(song, {
      op: "setProcessor",
      owner: "snare",
      processor: quickId("snare", "compressor"),
      on: false,
    }).song;
    expect(ownParts(off, snare(off))).toEqual(["density", "level"]);
    expect(paramsOf(turn(off, { density: 90 }).song, "compressor")).toMatchObject({
      on: false,
      params: paramsOf(song, "compressor").params,
    });
    const on = applyOperation(off, giveBack(off, snare(off), "density")).song;
    expect(ownParts(on, snare(on))).toEqual([]);
    const chain = snare(song).chain.filter((p) => p.id !== quickId("snare", "eq"));
    const gone = applyOperation(song, { op: "setChain", owner: "snare", chain }).song;
    expect(ownParts(gone, snare(gone))).toEqual(["weight", "stick", "air"]);
    const again = applyOperation(gone, giveBack(gone, snare(gone), "weight")).song;
    expect(ownParts(again, snare(again))).toEqual([]);
  });
  test("a chain that is full takes no more, and says so", () => {
    let full = plain;
    while (snare(full).chain.filter((p) => processorType(p.type).place === "free").length < limits.processors)
      full = applyOperation(full, addedProcessor(snare(full), "width").operation).song;
    expect(() => turn(full, { weight: 10 })).toThrow(/a chain takes 16/);
  });
  test("a song from outside may hold only what the controls can say", () => {
    const quick = { snare: at({ ...untouched, weight: 300 }) };
    expect(() => applyOperation(plain, { op: "setSong", values: { quick } })).toThrow(/weight/);
  });
});
