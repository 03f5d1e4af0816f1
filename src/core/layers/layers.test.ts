import { describe, expect, test } from "@jest/globals";
import { peakOf } from "../signal/level";
import { newLayer } from "../song/layer";
import type { Hit, Layer, LayerMic, Piece } from "../song/song";
import { noise } from "../testing/signals";
import { testMic } from "../testing/songs";
import { alignLayer } from "./alignLayer";
import { averageShot } from "./averageShot";
import { captureOneShots } from "./captureOneShots";
import { findOneShots } from "./findOneShots";
import { joinShots } from "./joinShots";
import { layerBalance } from "./layerBalance";
import { madeKinds, madeShots } from "./madeShots";
import { takePhase } from "./takePhase";

const rate = 48000;
const hit = (piece: Piece, time: number): Hit => ({
  piece,
  time,
  levelDb: -6,
  ghost: false,
  kind: "stroke",
  sure: 1,
});

/** Adds a decaying tone. */
function ring(x: Float32Array, time: number, level: number, frequency: number, decay = 0.03): void {
  const at = Math.round(time * rate);
  for (let i = 0; i < 0.3 * rate && at + i < x.length; i++)
    x[at + i]! += level * Math.exp(-i / (decay * rate)) * Math.sin((2 * Math.PI * frequency * i) / rate);
}

/** A snare mic and a hat mic; hats at 20 % level bleed into the snare mic at every stroke but the named ones. */
function session(alone: readonly number[], known: (k: number) => boolean = () => true) {
  const x = noise(12 * rate, 3, 0.0001);
  const hat = noise(12 * rate, 4, 0.0001);
  const hits: Hit[] = [];
  for (let k = 0; k < 20; k++) {
    const time = 0.3 + 0.55 * k;
    ring(x, time, 0.5, 190);
    hits.push(hit("snare", time));
    if (!alone.includes(k)) {
      ring(x, time, 0.05, 7000);
      ring(hat, time, 0.6, 7000);
      if (known(k)) hits.push(hit("hat", time));
    }
    ring(x, time + 0.27, 0.05, 7000);
    ring(hat, time + 0.27, 0.6, 7000);
    hits.push(hit("hat", time + 0.27));
  }
  return { x, hat, hits, timeOf: (k: number) => 0.3 + 0.55 * k };
}

describe("captured one-shots", () => {
  test("the strokes that are struck alone come first, cut at their transient, and are said to be far cleaner", () => {
    const { x, hat, hits, timeOf } = session([4, 11, 17]);
    const shots = captureOneShots([x], [hat], hits, "snare", rate);
    expect(
      shots
        .slice(0, 3)
        .map((s) => s.time)
        .sort((a, b) => a - b),
    ).toEqual([4, 11, 17].map(timeOf));
    expect(shots[2]!.cleanDb).toBeGreaterThan(shots[3]!.cleanDb + 10);
    // What bleeds in has a hundredth of the energy of the stroke.
    expect(shots[3]!.cleanDb).toBeGreaterThan(17);
    expect(shots[3]!.cleanDb).toBeLessThan(23);
    const [first] = shots;
    expect(first!.onset).toBe(240);
    expect(first!.audio[0]![240 + 100]).toBe(x[Math.round(first!.time * rate) + 100]);
    expect(Math.abs(first!.audio[0]!.at(-1)!)).toBeLessThan(1e-6);
  });
  test("also where nobody has found the hat's strokes", () => {
    const { x, hat, hits, timeOf } = session([4, 11, 17], () => false);
    const shots = captureOneShots([x], [hat], hits, "snare", rate);
    expect(
      shots
        .slice(0, 3)
        .map((s) => s.time)
        .sort((a, b) => a - b),
    ).toEqual([4, 11, 17].map(timeOf));
  });
  test("an average of strokes keeps the drum and lowers what differs", () => {
    const { x, hat, hits } = session([]);
    // Each stroke with a tone of another pitch in it: nothing that they have in common.
    const noisy = x.slice();
    hits.filter((h) => h.piece === "snare").forEach((h, k) => ring(noisy, h.time, 0.1, 900 + 313 * k));
    const shots = captureOneShots([noisy], [hat], hits, "snare", rate, { count: 16 });
    const mean = averageShot(shots, rate);
    const clean = new Float32Array(rate);
    ring(clean, 0.005, 0.5, 190);
    ring(clean, 0.005, 0.05, 7000);
    const off = (y: Float32Array) => {
      let sum = 0;
      for (let i = 0; i < 4800; i++) sum += (y[240 + i]! - clean[240 + i]!) ** 2;
      return sum;
    };
    expect(off(mean.audio[0]!)).toBeLessThan(off(shots[0]!.audio[0]!) / 8);
  });
  test("a drum that never stands alone is refused with the reason", () => {
    const x = noise(rate, 1);
    const hits = Array.from({ length: 10 }, (_, k) => hit("snare", 0.1 + 0.08 * k));
    expect(() => captureOneShots([x], [], hits, "snare", rate)).toThrow("stands alone for 0.12 s");
    expect(() => captureOneShots([x], [], [], "snare", rate)).toThrow("nothing can be captured");
  });
});

describe("one-shots in a file", () => {
  test("silence parts them, and each is played by its transient", () => {
    const x = new Float32Array(2 * rate);
    // A swell of 20 ms before a stroke, and a stroke at once.
    for (let i = 0; i < 960; i++) x[4800 + i] = (0.1 * i) / 960;
    ring(x, (4800 + 960) / rate, 0.8, 200);
    ring(x, 1.2, 0.4, 300);
    const shots = findOneShots([x], rate);
    expect(shots).toHaveLength(2);
    const onset = shots[0]!.from + shots[0]!.onset;
    expect(Math.abs(onset - (4800 + 960))).toBeLessThan(60);
    expect(shots[0]!.onset).toBeLessThanOrEqual(480);
    expect(Math.abs(shots[1]!.from + shots[1]!.onset - 1.2 * rate)).toBeLessThan(20);
  });
  test.each([
    ["silence", new Float32Array(1000), "silent"],
    ["one frame", Float32Array.of(0.5), "no sound of 32 or more"],
    ["nothing", new Float32Array(0), "silent"],
  ])("%s is refused in words", (_, x, words) => {
    expect(() => findOneShots([x], rate)).toThrow(words);
  });
  test("joined in one file each is where it says", () => {
    const made = madeKinds.flatMap((kind) => madeShots(kind, rate));
    const { channels, sounds } = joinShots(made);
    expect(channels).toHaveLength(1);
    sounds.forEach((s, i) =>
      expect(channels[0]!.subarray(s.from, s.from + s.frames)).toEqual(made[i]!.audio[0]),
    );
    for (const { audio } of made) expect(peakOf(audio[0]!)).toBeGreaterThan(0.4);
  });
});

describe("a layer in phase with the drum", () => {
  /** A drum with a low tone, and a layer of the same tone, `late` frames later and of a side. */
  function pair(late: number, side: 1 | -1, hz = 90) {
    const main = new Float32Array(6 * rate);
    const layer = new Float32Array(6 * rate);
    const times = [0.5, 1.5, 2.5, 3.5, 4.5];
    for (const t of times) {
      ring(main, t, 0.5, hz, 0.06);
      ring(layer, t + late / rate, 0.5 * side, hz, 0.06);
    }
    return { main, layer, times };
  }
  test.each([
    [0, 1],
    [100, 1],
    [-80, -1],
  ] as const)("%i frames late and side %i is found at every stroke", (late, side) => {
    const { main, layer, times } = pair(late, side);
    const { polarity, strokes } = alignLayer(main, layer, times, rate);
    expect(polarity).toBe(side);
    for (const s of strokes) {
      expect(Math.abs(s.frames + late)).toBeLessThan(12);
      // Two alike hold four times the energy of one: 3.01 dB above both apart.
      expect(s.bestDb).toBeCloseTo(3.01, 1);
    }
  });
  test("a stroke that differs from the others is moved alone", () => {
    const { main, layer, times } = pair(0, 1);
    const odd = layer.slice();
    odd.fill(0, 2.4 * rate, 3.2 * rate);
    ring(odd, 2.5 + 150 / rate, 0.5, 90, 0.06);
    const { strokes } = alignLayer(main, odd, times, rate);
    expect(strokes.map((s) => Math.abs(s.frames) < 40)).toEqual([true, true, false, true, true]);
    expect(Math.abs(strokes[2]!.frames + 150)).toBeLessThan(40);
  });
  test("a stroke that wants the other side than all others is turned over alone, and back where that is undone", () => {
    // Half a wave of 50 Hz is further than a sound may be moved.
    const { main, layer, times } = pair(0, 1, 50);
    const odd = layer.map((v, i) => (i > 2.3 * rate && i < 3.3 * rate ? -v : v));
    const { polarity, strokes } = alignLayer(main, odd, times, rate);
    expect(polarity).toBe(1);
    expect(strokes.map((s) => s.turned)).toEqual([false, false, true, false, false]);
    // In opposite phase nothing is left of it; turned over it holds four times the energy of one: 3.01 dB above both apart.
    expect(strokes[2]!.nowDb).toBeLessThan(-40);
    expect(strokes[2]!.bestDb).toBeCloseTo(3.01, 1);
    const mic: LayerMic = { ...testMic("l", "sample", "close", 100), layer: newLayer("kick", []) };
    const taken = takePhase(mic, { polarity, strokes }) as { values: { layer: Layer } };
    expect(taken.values.layer.shifts.map((s) => s.turned)).toEqual([
      undefined,
      undefined,
      true,
      undefined,
      undefined,
    ]);
  });
  test("places are counted from the strokes: measured where it was brought, it stays there", () => {
    const { main, layer, times } = pair(-80, 1, 50);
    const first = alignLayer(main, layer, times, rate);
    const by = first.strokes[0]!.frames;
    // As it plays once its strokes are there, the third one turned over.
    const moved = new Float32Array(layer.length);
    moved.set(layer.subarray(0, layer.length - by), by);
    const odd = moved.map((v, i) => (i > 2.3 * rate && i < 3.3 * rate ? -v : v));
    const again = alignLayer(main, odd, times, rate, (t) => ({ frames: by, turned: t === 2.5 }));
    expect(again.polarity).toBe(1);
    expect(again.strokes.map((s) => s.frames)).toEqual(times.map(() => by));
    expect(again.strokes.map((s) => s.turned)).toEqual(times.map(() => false));
    expect(again.strokes[1]!.nowDb).toBeCloseTo(again.strokes[1]!.bestDb, 2);
    expect(again.strokes[2]!.nowDb).toBeLessThan(-40);
  });
  test("what both give is told by band, phase included", () => {
    const { main, layer, times } = pair(0, 1);
    const { bands, strokes } = layerBalance([main], [layer], times, [0, -6.0206], rate);
    expect(strokes).toBe(5);
    const low = bands.find((b) => b.id === "low")!;
    expect(low.micDb - low.layerDb).toBeCloseTo(6.02, 1);
    // 1 + 0.5: 3.52 dB above the mic.
    expect(low.sumDb - low.micDb).toBeCloseTo(3.52, 1);
    const turned = layerBalance([main], [layer.map((v) => -v)], times, [0, 0], rate);
    expect(turned.bands[0]!.sumDb).toBeLessThan(low.micDb - 60);
  });
});
