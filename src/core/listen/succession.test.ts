import { describe, expect, test } from "@jest/globals";
import { blockFrames } from "../engine/engine";
import { newBus, newProcessor } from "../song/create";
import { withFree } from "../song/chain";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { sine } from "../testing/signals";
import { testSong } from "../testing/songs";
import { Sides } from "./sides";

const { song: plain } = testSong(96000);
// Low tones: whatever steps further than they do is a click.
const audio = [[sine(60, 0.3, 2)], [sine(97, 0.2, 2)], [sine(41, 0.1, 2), sine(41, 0.1, 2)]];
const free = (song: Song, id: string) =>
  song.mics
    .find((m) => m.id === id)!
    .chain.filter((p) => !["cancel", "delay", "polarity", "rotation", "trim", "pan"].includes(p.type));
const mic = (song: Song, id: string) => song.mics.find((m) => m.id === id)!;
const loud = (owner: string): ReturnType<typeof newProcessor> => ({
  ...newProcessor(owner, "compressor", true, { threshold: 0, makeup: 6 }),
  id: `${owner}.louder`,
});
const chain = (song: Song, id: string): Operation => ({
  op: "setChain",
  owner: id,
  chain: withFree(mic(song, id).chain, [...free(song, id), loud(id)]),
});
const send = { level: 0, from: "fader", followsPan: true } as const;

/** Plays blocks and returns the left channel; `change` comes before block `at`. */
function play(start: Song, blocks: number, at: number, change: (sides: Sides) => void): Float32Array {
  const sides = new Sides(start);
  sides.reset(0);
  const out = new Float32Array(blocks * blockFrames);
  for (let b = 0; b < blocks; b++) {
    if (b === at) change(sides);
    const from = b * blockFrames;
    const block = audio.map((m) => m.map((x) => x.subarray(from, from + blockFrames)));
    sides.process(block, block, from);
    out.set(sides.output[0]!, from);
  }
  return out;
}
const largestStep = (x: Float32Array) =>
  x.reduce((most, v, i) => (i === 0 ? 0 : Math.max(most, Math.abs(v - x[i - 1]!))), 0);
const rms = (x: Float32Array) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length);

const changes: [string, (song: Song) => Operation[], number][] = [
  ["a processor more in a mic", (s) => [chain(s, "kick")], 6],
  [
    "a processor less and another order",
    (s) => [
      {
        op: "setChain",
        owner: "snare",
        chain: withFree(mic(s, "snare").chain, free(s, "snare").reverse().slice(1)),
      },
    ],
    0,
  ],
  ["a processor more on the kit", () => [{ op: "setChain", owner: "kit", chain: [loud("kit")] }], 6],
  [
    "a bus more, and the mics through it",
    () => [
      { op: "addBuses", buses: [{ ...newBus("low", "Low", "group"), level: 6 }] },
      ...["kick", "snare", "oh"].map((id): Operation => ({
        op: "setMic",
        mic: id,
        values: { output: "low" },
      })),
    ],
    6,
  ],
  [
    "a send to a path that is open",
    () => [{ op: "setSends", owner: "kick", sends: [{ ...send, bus: "grit" }] }],
    0,
  ],
  [
    "latency: saturation, which holds everything else back",
    (s) => [
      {
        op: "setChain",
        owner: "kick",
        chain: withFree(mic(s, "kick").chain, [
          ...free(s, "kick"),
          { ...newProcessor("kick", "saturation", true, { drive: -12 }), id: "kick.more" },
        ]),
      },
    ],
    0,
  ],
];

describe("a structure that changes while it plays", () => {
  const blocks = 500;
  const at = 300;
  test.each(changes)(
    "%s: no gap, no click, heard within 100 ms, and then as if it had always been so",
    (_, change, raisedDb) => {
      const song = applyAll(plain, [{ op: "setBus", bus: "grit", values: { muted: false } }]);
      const changed = applyAll(song, change(song));
      const out = play(song, blocks, at, (sides) => sides.update(changed));
      const always = play(changed, blocks, -1, () => {});
      const steady = out.subarray(100 * blockFrames, at * blockFrames);
      const after = out.subarray(at * blockFrames);
      const limit = Math.max(largestStep(steady), largestStep(always.subarray(100 * blockFrames)));
      expect(largestStep(out.subarray(100 * blockFrames))).toBeLessThan(1.1 * limit);
      for (let b = 0; b < blocks - at; b++)
        expect(rms(after.subarray(b * blockFrames, (b + 8) * blockFrames))).toBeGreaterThan(
          0.3 * rms(steady),
        );
      // 100 ms on and a little for the tones to be measured over.
      const late = Math.ceil((0.1 * 48000) / blockFrames);
      const span = 48000 / blockFrames / 8;
      const there = after.subarray(late * blockFrames, (late + span) * blockFrames);
      const wanted = always.subarray((at + late) * blockFrames, (at + late + span) * blockFrames);
      expect(20 * Math.log10(rms(there) / rms(wanted))).toBeCloseTo(0, 1);
      if (raisedDb > 0) expect(rms(there)).toBeGreaterThan(1.2 * rms(steady.subarray(0, there.length)));
      const end = out.subarray(-40 * blockFrames);
      expect(
        Math.max(...end.map((v, i) => Math.abs(v - always[always.length - end.length + i]!))),
      ).toBeLessThan(1e-4);
    },
  );

  test("a room goes on ringing over it", () => {
    const song = applyAll(plain, [
      { op: "setBus", bus: "room", values: { muted: false, level: 0 } },
      { op: "setProcessor", owner: "room", processor: "room.reverb", params: { decay: 4 } },
      { op: "setSends", owner: "kick", sends: [{ ...send, bus: "room" }] },
    ]);
    const changed = applyAll(song, [chain(song, "snare")]);
    const silence = (from: number) => (from > 250 * blockFrames ? 0 : 1);
    const sides = new Sides(song);
    sides.reset(0);
    const powers: number[] = [];
    for (let b = 0; b < 500; b++) {
      if (b === 300) sides.update(changed);
      const from = b * blockFrames;
      const block = audio.map((m) =>
        m.map((x) => x.slice(from, from + blockFrames).map((v) => silence(from) * v)),
      );
      sides.process(block, block, from);
      powers.push(rms(sides.output[0] as Float32Array));
    }
    const level = (b: number) => 20 * Math.log10(Math.hypot(...powers.slice(b, b + 20)));
    // 60 dB in 4 s: 0.8 dB in 20 blocks, and never more than a few between two of them.
    for (let b = 290; b < 440; b += 20) expect(level(b) - level(b + 20)).toBeLessThan(4);
    expect(level(290) - level(440)).toBeLessThan(20);
  });

  // Each holds what it does for long behind a stroke; set up cold it would begin anew in the silence.
  test.each([
    ["gate", { threshold: -30, hold: 1, release: 2 }],
    ["dynamicEq", { lowShape: "bell", lowFrequency: 100, lowThreshold: -30, lowHold: 0.5, lowRange: -18 }],
    ["compressor", { threshold: -40, release: 3, ratio: 20 }],
    ["expander", { threshold: -20, hold: 1, release: 2 }],
    ["bandCompressor", { threshold1: -40, ratio1: 20, release1: 3 }],
    ["transient", { sustain: 12, sustainTime: 1.5 }],
    ["harmonics", { level: "matched", drive: 20 }],
  ] as const)("%s: what it holds goes on where it was", (type, params) => {
    const lasting = { ...newProcessor("kick", type, true, params), id: "kick.lasting" };
    const neutral = { ...newProcessor("kick", "eq", true, {}), id: "kick.more" };
    const withChain = (more: ReturnType<typeof newProcessor>[]): Song =>
      applyAll(plain, [
        { op: "setChain", owner: "kick", chain: withFree(mic(plain, "kick").chain, [lasting, ...more]) },
      ]);
    const song = withChain([]);
    const changed = withChain([neutral]);
    const faded = (from: number): number => (from > 250 * blockFrames ? 0.02 : 1);
    const run = (start: Song, update: boolean): Float32Array => {
      const sides = new Sides(start);
      sides.reset(0);
      const out = new Float32Array(blocks * blockFrames);
      for (let b = 0; b < blocks; b++) {
        if (update && b === at) sides.update(changed);
        const from = b * blockFrames;
        const block = audio.map((m, i) =>
          m.map((x) => x.slice(from, from + blockFrames).map((v) => (i === 0 ? faded(from) * v : 0))),
        );
        sides.process(block, block, from);
        out.set(sides.output[0]!, from);
      }
      return out;
    };
    const taken = run(song, true).subarray((at + 20) * blockFrames);
    const always = run(song, false).subarray((at + 20) * blockFrames);
    const off = taken.map((v, i) => v - always[i]!);
    expect(rms(always)).toBeGreaterThan(1e-5);
    expect(20 * Math.log10(rms(off) / rms(always))).toBeLessThan(-50);
  });

  test("two changes at once, and one that is taken back, end where they should", () => {
    const once = applyAll(plain, [chain(plain, "kick")]);
    const twice = applyAll(once, [chain(once, "snare")]);
    const out = play(plain, blocks, at, (sides) => {
      sides.update(once);
      sides.update(twice);
      sides.update(once);
    });
    const always = play(once, blocks, -1, () => {});
    expect(rms(out.subarray(-20 * blockFrames))).toBeCloseTo(rms(always.subarray(-20 * blockFrames)), 4);
    const back = play(plain, blocks, at, (sides) => {
      sides.update(once);
      sides.update(plain);
    });
    expect(back).toEqual(play(plain, blocks, -1, () => {}));
  });
});
