import { describe, expect, test } from "@jest/globals";
import { bleedBands } from "../signal/bleedBands";
import { cancelStretch } from "../clean/cancelStretch";
import { laneFrames } from "../lanes/laneMemory";
import { cancelLatency } from "../processors/cancel/cancel";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { bleedSong } from "../testing/bleedSong";
import { largestDifference } from "../testing/signals";
import { CancelStage } from "./cancelStage";
import { Engine } from "./engine";
import { PositionLine } from "./positionLine";
import { memoryReader, renderSong } from "./renderSong";
import { SectionMap } from "./sectionValues";

const rate = 48000;
const { song, audio, own } = bleedSong(rate);
const set = (mic: string, on: boolean, params = {}): Operation => ({
  op: "setProcessor",
  owner: mic,
  processor: `${mic}.cancel`,
  params,
  on,
});
const both = applyAll(song, [set("kick", true), set("snare", true)]);
const energy = (x: Float32Array, from: number, seconds: number) => {
  let sum = 1e-20;
  for (let i = Math.round(from * rate); i < Math.round((from + seconds) * rate); i++) sum += x[i]! ** 2;
  return sum;
};
const change = (a: Float32Array, b: Float32Array, from: number, seconds: number) =>
  10 * Math.log10(energy(a, from, seconds) / energy(b, from, seconds));
const times = (piece: string) => song.hits.filter((h) => h.piece === piece).map((h) => h.time);

describe("cancelling", () => {
  test("off, every mic passes to the bit, late by what is told", () => {
    const out = cancelStretch(song, audio, 0);
    out.forEach((channels, m) =>
      channels.forEach((y, ch) => expect(largestDifference(y, audio[m]![ch]!)).toBe(0)),
    );
    expect(new CancelStage(song).latency).toBe(cancelLatency(rate));
  });
  test("strokes of the other drum go down by 12 dB or more, the own ones stay within half a dB; other mics are untouched", () => {
    const out = cancelStretch(both, audio, 0);
    const alone = times("kick").filter((t) => !times("snare").includes(t));
    for (const t of alone) expect(change(out[1]![0]!, audio[1]![0]!, t, 0.1)).toBeLessThan(-12);
    for (const t of times("snare")) {
      expect(Math.abs(change(out[1]![0]!, own[1]!, t, 0.08))).toBeLessThan(0.5);
      expect(Math.abs(change(out[0]![0]!, own[0]!, times("kick")[3]!, 0.08))).toBeLessThan(0.5);
    }
    expect(largestDifference(out[2]![0]!, audio[2]![0]!)).toBe(0);
  });
  // Issue 11: where a mic is told to hear another drum louder than its own, its strokes lost up to 3 dB of their energy.
  test("own strokes stay within 1 dB though the other drum is said to be as loud in the mic", () => {
    const loud = structuredClone(both.bleed) as unknown as Record<
      string,
      { drums: Record<string, number[]> }[]
    >;
    loud["snare"]![0]!.drums["kick"] = loud["snare"]![0]!.drums["kick"]!.map(() => 10);
    const out = cancelStretch({ ...both, bleed: loud as unknown as Song["bleed"] }, audio, 0);
    for (const t of times("kick").filter((x) => times("snare").includes(x)))
      expect(change(out[1]![0]!, audio[1]![0]!, t, 0.08)).toBeGreaterThan(-1);
  });
  test("where both drums play at once, each mic comes nearer to its own drum", () => {
    const out = cancelStretch(both, audio, 0);
    for (const t of times("kick").filter((x) => times("snare").includes(x)))
      [0, 1].forEach((m) => {
        const away = (y: Float32Array) =>
          energy(
            y.map((v, i) => v - own[m]![i]!),
            t,
            0.1,
          );
        expect(away(out[m]![0]!)).toBeLessThan(away(audio[m]![0]!));
      });
  });
  test("at no strength only rounding is left; a range holds what is taken", () => {
    const none = cancelStretch(applyAll(both, [set("snare", true, { strength: 0 })]), audio, 0);
    expect(largestDifference(none[1]![0]!, audio[1]![0]!)).toBeLessThan(1e-6);
    const six = cancelStretch(applyAll(both, [set("snare", true, { range: 6 })]), audio, 0);
    const t = times("kick")[0]!;
    expect(change(six[1]![0]!, audio[1]![0]!, t, 0.1)).toBeGreaterThan(-6.1);
    expect(change(six[1]![0]!, audio[1]![0]!, t, 0.1)).toBeLessThan(-5);
  });
  test("a frame that is no number harms its surroundings and nothing else", () => {
    const broken = audio.map((channels) => channels.map((x) => Float32Array.from(x)));
    broken[0]![0]![2 * rate] = NaN;
    const [out, whole] = [cancelStretch(both, broken, 0), cancelStretch(both, audio, 0)];
    const tail = (y: Float32Array) => y.subarray(2.2 * rate);
    expect(out[1]![0]!.subarray(2.2 * rate).every(Number.isFinite)).toBe(true);
    expect(change(tail(out[1]![0]!), tail(whole[1]![0]!), 1, 5)).toBeCloseTo(0, 3);
  });
  test("nothing is known of the bleed: everything passes", () => {
    const out = cancelStretch({ ...both, bleed: {} }, audio, 0);
    expect(largestDifference(out[1]![0]!, audio[1]![0]!)).toBe(0);
  });
  test("live gives the samples of the offline render", async () => {
    const stem = new Float32Array(song.frames);
    let filled = 0;
    await renderSong(
      both,
      memoryReader(audio),
      { kit: true, stems: false, buses: false },
      (_, channels, frames) => {
        stem.set(channels[0]!.subarray(0, frames), filled);
        filled += frames;
      },
    );
    const engine = Engine.of(both);
    engine.reset(0);
    const live = new Float32Array(song.frames + engine.latency);
    for (let at = 0; at + laneFrames <= live.length; at += laneFrames) {
      const block = audio.map((channels) =>
        channels.map((x) => {
          const b = new Float32Array(laneFrames);
          b.set(x.subarray(at, at + laneFrames));
          return b;
        }),
      );
      engine.process(block, at);
      live.set(engine.mixer.output[0]!, at);
    }
    const heard = live.subarray(engine.latency, live.length - laneFrames);
    expect(largestDifference(heard, stem.subarray(0, heard.length))).toBe(0);
  });
});

describe("switching while it plays", () => {
  /** Runs the stage over the song and changes it at a block. */
  function played(changes: ReadonlyMap<number, Song>): Float32Array {
    const stage = new CancelStage(song);
    const sections = new SectionMap([], rate);
    stage.update(song, sections);
    stage.reset(0);
    const positions = new PositionLine(stage.latency);
    const y = new Float32Array(song.frames);
    for (let at = 0, n = 0; at + laneFrames <= y.length; at += laneFrames, n++) {
      const changed = changes.get(n);
      if (changed) stage.update(changed, sections);
      positions.put(at);
      stage.process(
        audio.map((channels) => channels.map((x) => x.subarray(at, at + laneFrames))),
        positions,
      );
      y.set(stage.outputs[1]![0]!, at);
    }
    return y;
  }
  const step = (y: Float32Array, from: number, to: number) => {
    let most = 0;
    for (let i = from + 1; i < to; i++) most = Math.max(most, Math.abs(y[i]! - y[i - 1]!));
    return most;
  };
  test.each([37, 38, 39, 40, 41])(
    "on at block %d, off and on again: no step that the recording does not have",
    (at) => {
      const never = played(new Map());
      const y = played(
        new Map([
          [at, both],
          [at + 30, song],
          [at + 37, both],
        ]),
      );
      for (const n of [at, at + 30, at + 37]) {
        const [from, to] = [n * laneFrames, (n + 30) * laneFrames];
        expect(step(y, from, to)).toBeLessThan(1.3 * step(never, from, to) + 1e-4);
      }
      // Long after the last switch it is as if it had been on from the start, but for where its looks begin.
      const always = cancelStretch(both, audio, 0)[1]![0]!;
      const late = cancelLatency(rate);
      expect(change(y.subarray(late), always, 5, 4)).toBeCloseTo(0, 1);
    },
  );
  test("what was taken out is told, and nothing while it is off", () => {
    const stage = new CancelStage(both);
    stage.update(both, new SectionMap([], rate));
    stage.reset(0);
    const positions = new PositionLine(stage.latency);
    let most = 0;
    for (let at = 0; at + laneFrames < 2 * rate; at += laneFrames) {
      positions.put(at);
      stage.process(
        audio.map((channels) => channels.map((x) => x.subarray(at, at + laneFrames))),
        positions,
      );
      most = Math.max(most, stage.reductionDb(1));
    }
    expect(most).toBeGreaterThan(15);
    expect(stage.reductionDb(2)).toBe(0);
    const [gains, none] = [new Float64Array(bleedBands).fill(NaN), new Float64Array(bleedBands).fill(NaN)];
    stage.bandGains(1, gains);
    stage.bandGains(2, none);
    expect(gains.every((g) => g <= 0.01 && g >= -40.01)).toBe(true);
    expect(none.every(Number.isNaN)).toBe(true);
  });
});
