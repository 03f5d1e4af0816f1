import { describe, expect, test } from "@jest/globals";
import { withFree } from "../song/chain";
import { newBus, newProcessor } from "../song/create";
import { movedBy } from "../song/levelMoves";
import { applyAll, type Operation } from "../song/operations";
import type { LevelMove, Song } from "../song/song";
import { testSong } from "../testing/songs";
import { blockFrames, Engine } from "./engine";
import { MoveLine } from "./moveLine";
import { memoryReader, renderSong } from "./renderSong";

const frames = 24000;
const { song: bare, audio } = testSong(frames);
const plain = applyAll(bare, [
  { op: "addBuses", buses: [newBus("shells", "Shells", "group")] },
  { op: "setMic", mic: "snare", values: { output: "shells" } },
]);
/** A gate that lets everything through: it makes what runs through it late. */
const late = (song: Song, owner: string): Operation => {
  const { chain } = [...song.mics, ...song.buses].find((o) => o.id === owner)!;
  return {
    op: "setChain",
    owner,
    chain: withFree(chain, [{ ...newProcessor(owner, "gate", true, { range: 0 }), id: `${owner}.late` }]),
  };
};
const moves: LevelMove[] = [
  { time: 0.1, db: 0 },
  { time: 0.2, db: -12 },
  { time: 0.3, db: -12 },
  { time: 0.4, db: 6 },
];
const only = (mic: string): Operation[] =>
  plain.mics.filter((m) => m.id !== mic).map((m) => ({ op: "setMic", mic: m.id, values: { muted: true } }));

async function kit(song: Song): Promise<Float32Array> {
  const y = new Float32Array(song.frames);
  let at = 0;
  await renderSong(song, memoryReader(audio), { kit: true, stems: false, buses: false }, (_, channels, n) => {
    y.set(channels[0]!.subarray(0, Math.min(n, y.length - at)), at);
    at += n;
  });
  return y;
}
/** What the fader gave at every frame that is not silent, dB, against what it was asked for there. */
function worst(moved: Float32Array, still: Float32Array): number {
  let most = 0;
  for (let i = 0; i < still.length; i++) {
    if (Math.abs(still[i]!) < 1e-3) continue;
    const given = 20 * Math.log10(moved[i]! / still[i]!);
    most = Math.max(most, Math.abs(given - movedBy(moves, i / 48000)));
  }
  return most;
}

describe("a fader that moves over the song", () => {
  const lateAll = applyAll(plain, [late(plain, "snare"), late(plain, "shells"), ...only("snare")]);
  test.each([
    ["a mic's", { op: "setMic", mic: "snare", values: { levelMoves: moves } }],
    ["a bus's behind a bus that is late", { op: "setBus", bus: "shells", values: { levelMoves: moves } }],
    ["the kit's", { op: "setBus", bus: "kit", values: { levelMoves: moves } }],
  ] as const)("%s is where the song is, however late it is", async (_, operation) => {
    // A block that holds a corner of the way cuts it: by 0.12 dB at 180 dB a second. What is late by the gate alone would be 0.9 dB beside.
    expect(worst(await kit(applyAll(lateAll, [operation])), await kit(lateAll))).toBeLessThan(0.13);
  });
  test("sends from behind the fader follow it", async () => {
    const sent = applyAll(plain, [
      ...only("snare"),
      { op: "addBuses", buses: [newBus("path", "Path", "parallel")] },
      { op: "setSends", owner: "snare", sends: [{ bus: "path", level: 0, from: "fader", followsPan: true }] },
    ]);
    const moved = applyAll(sent, [{ op: "setMic", mic: "snare", values: { levelMoves: moves } }]);
    expect(worst(await kit(moved), await kit(sent))).toBeLessThan(0.13);
  });
  test("after a jump it is there at once", () => {
    const engine = Engine.of(
      applyAll(plain, [...only("snare"), { op: "setMic", mic: "snare", values: { levelMoves: moves } }]),
    );
    const still = Engine.of(applyAll(plain, only("snare")));
    const from = 10240;
    const blocks = Math.ceil(engine.latency / blockFrames) + 1;
    for (const e of [engine, still]) {
      e.reset(from);
      for (let at = from; at < from + blocks * blockFrames; at += blockFrames)
        e.process(
          audio.map((channels) => channels.map((x) => x.subarray(at, at + blockFrames))),
          at,
        );
    }
    // The first that is heard lies where it goes straight at -12 dB.
    const [moved, plainly] = [engine, still].map((e) => e.mixer.output[0]!);
    const heard = plainly!.findIndex((v) => Math.abs(v) > 1e-3);
    expect(20 * Math.log10(moved![heard]! / plainly![heard]!)).toBeCloseTo(-12, 3);
  });
});

test("asked forwards, backwards and beyond its ends a line gives what its points say", () => {
  const line = new MoveLine(moves, 48000);
  for (const t of [0, 0.1, 0.15, 0.29, 0.45, 0.12, 0.05, 0.4])
    expect(line.at(t * 48000)).toBeCloseTo(movedBy(moves, t), 9);
});
