import { describe, expect, test } from "@jest/globals";
import { blockFrames } from "../core/engine/engine";
import { responses } from "../core/engine/responses";
import { plainListening } from "../core/listen/listening";
import { memoryReader, renderSong } from "../core/engine/renderSong";
import { readEdited } from "../core/engine/timeline";
import { partitionResponse } from "../core/signal/partitionedResponse";
import { newProcessor } from "../core/song/create";
import { applyAll } from "../core/song/operations";
import type { Song } from "../core/song/song";
import { renderedKit } from "../core/testing/renderedKit";
import { largestDifference } from "../core/testing/signals";
import { testSong } from "../core/testing/songs";
import { LiveEngine } from "./liveEngine";
import type { FromEngine } from "./messages";
import { allocateBoard, MeterBoard } from "./meterBoard";
import { allocateRing, Ring } from "./ring";

const busy = (song: Song): Song =>
  applyAll(song, [
    { op: "setProcessor", owner: "kick", processor: "kick.compressor", on: true, params: { threshold: -30 } },
    { op: "setProcessor", owner: "kick", processor: "kick.delay", params: { delay: -31.7 } },
    { op: "setProcessor", owner: "snare", processor: "snare.gate", on: true, params: { opens: "hits" } },
    { op: "setProcessor", owner: "snare", processor: "snare.saturation", on: true, params: {} },
    { op: "setBus", bus: "squash", values: { muted: false } },
    { op: "setBus", bus: "room", values: { muted: false } },
    {
      op: "setSends",
      owner: "kick",
      sends: [
        { bus: "squash", level: 0, from: "fader", followsPan: true },
        { bus: "room", level: -6, from: "chain", followsPan: true },
      ],
    },
    {
      op: "setSong",
      values: {
        edits: [
          { at: 9000, shift: 35, fade: 300, likeness: 1, jumpDb: null },
          { at: 14000, shift: -20, fade: 300, likeness: 1, jumpDb: null },
        ],
      },
    },
  ]);

function fill(
  ring: Ring,
  song: Song,
  audio: Float32Array[][],
  from: number,
  blocks: number,
  generation: number,
): void {
  const reader = memoryReader(audio);
  for (let b = 0; b < blocks; b++) {
    const position = from + b * blockFrames;
    const out = ring.free();
    let at = 0;
    audio.forEach((mic, m) =>
      mic.forEach((_, ch) => readEdited(song.edits, reader(m, ch), position, blockFrames, out[at++]!)),
    );
    ring.push(position, generation);
  }
}

/** A song that is open in the engine, with its ring; `run` plays blocks and returns the positions that were told. */
function playing(song: Song) {
  const memory = allocateRing(4);
  const messages: FromEngine[] = [];
  const live = new LiveEngine((m) => messages.push(m));
  const board = allocateBoard(song.mics.length);
  live.receive({ type: "open", song, ring: memory, board, listening: plainListening });
  const meters = new MeterBoard(board);
  const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)];
  const run = (blocks: number): number[] =>
    Array.from({ length: blocks }, () => {
      live.process(out);
      return meters.get("position");
    });
  const captured = () => {
    const one = messages.find((m) => m.type === "captured");
    if (one?.type !== "captured") throw new Error("nothing was captured");
    return one;
  };
  return { live, ring: new Ring(memory), meters, out, run, captured };
}

describe("live engine", () => {
  test("plays the samples of the offline render, also after a jump", async () => {
    const { song: plain, audio } = testSong(40000);
    const song = busy(plain);
    const offline: Float32Array[] = [new Float32Array(song.frames), new Float32Array(song.frames)];
    let written = 0;
    await renderSong(
      song,
      memoryReader(audio),
      { kit: true, stems: false, buses: false },
      (_, channels, frames) => {
        channels.forEach((x, ch) => offline[ch]!.set(x.subarray(0, frames), written));
        written += frames;
      },
    );
    const { live, ring, run, captured } = playing(song);
    fill(ring, song, audio, 0, 300, 0);
    live.receive({ type: "play", on: true });
    live.receive({ type: "capture", frames: 24000 });
    run(260);
    const { position, channels } = captured();
    expect(position).toBeGreaterThanOrEqual(0);
    expect(position).toBeLessThan(blockFrames);
    for (let ch = 0; ch < 2; ch++)
      expect(channels[ch]).toEqual(offline[ch]!.subarray(position, position + 24000));
  });

  test("an impulse response that comes while it plays is heard from then on, as the offline render has it", async () => {
    const { song: plain, audio } = testSong(60000);
    const kit = plain.buses.find((b) => b.output === null)!;
    const space = { ...newProcessor(kit.id, "recordedSpace", true, { mix: 50 }), response: "snare" };
    const song = applyAll(plain, [{ op: "setChain", owner: kit.id, chain: [space] }]);
    const response = new Float32Array(3000).map((_, i) => (i % 700 === 0 ? 0.5 : 0));
    const ready = partitionResponse([response]);
    responses.clear();
    const { live, ring, run, captured } = playing(song);
    fill(ring, song, audio, 0, 400, 0);
    live.receive({ type: "play", on: true });
    run(100);
    live.receive({ type: "response", mic: "snare", response: ready });
    run(60); // longer than the response: it has heard all that rings
    live.receive({ type: "capture", frames: 12000 });
    run(120);
    const { position, channels } = captured();
    const offline = await renderedKit(song, audio, song.frames);
    for (let ch = 0; ch < 2; ch++) {
      const wanted = offline.subarray(ch * song.frames + position).subarray(0, 12000);
      expect(largestDifference(channels[ch]!, wanted)).toBeLessThan(1e-6);
    }
    responses.clear();
  });
  test("a jump throws old blocks away, fades, and reports the new place; starving is counted", () => {
    const { song, audio } = testSong(40000);
    const { live, ring, meters, out, run } = playing(song);
    const position = () => meters.get("position");
    const starved = () => meters.get("starved");
    fill(ring, song, audio, 0, 100, 0);
    live.receive({ type: "play", on: true });
    run(40);
    expect(position()).toBeGreaterThan(0);
    live.receive({ type: "generation", generation: 1, position: 25600 });
    fill(ring, song, audio, 25600, 100, 1);
    run(40);
    expect(position()).toBeGreaterThan(25600);
    expect(starved()).toBe(0);
    run(120);
    expect(starved()).toBeGreaterThan(0);
    expect(out[0]!.every((v) => v === 0)).toBe(true);
  });

  test("while audio is waited for and the delays are filled, the playhead stands where it was put", () => {
    const { song: plain, audio } = testSong(40000);
    const song = busy(plain);
    const { live, ring, run } = playing(song);
    live.receive({ type: "play", on: true });
    live.receive({ type: "generation", generation: 1, position: 25600 });
    expect(run(20).at(-1)).toBe(25600);
    fill(ring, song, audio, 25600, 100, 1);
    const told = run(40);
    for (let b = 1; b < told.length; b++) expect(told[b]).toBeGreaterThanOrEqual(told[b - 1]!);
    // At most a block of what is heard, and the blocks between two reports, lie behind the jump.
    expect(told[8]).toBeLessThan(25600 + 9 * blockFrames);
    expect(told.at(-1)).toBeGreaterThan(25600 + 20 * blockFrames);
  });

  test("what is captured is heard in one go, whatever jumps meanwhile", async () => {
    const { song: plain, audio } = testSong(40000);
    // It delays, and remembers nothing: what is heard behind a jump is what the whole song gives there.
    const song = applyAll(plain, [
      { op: "setProcessor", owner: "kick", processor: "kick.delay", params: { delay: -31.7 } },
    ]);
    const { live, ring, run, captured } = playing(song);
    fill(ring, song, audio, 0, 100, 0);
    live.receive({ type: "play", on: true });
    run(20);
    live.receive({ type: "capture", frames: 6000 });
    run(10);
    live.receive({ type: "generation", generation: 1, position: 12800 });
    fill(ring, song, audio, 12800, 150, 1);
    run(120);
    const { position, channels } = captured();
    expect(position).toBeGreaterThanOrEqual(12800);
    const offline = await renderedKit(song, audio, song.frames);
    const wanted = offline.subarray(position).subarray(0, 6000);
    expect(largestDifference(channels[0]!, wanted)).toBeLessThan(1e-6);
  });

  test("a processor that is put in while it plays moves the playhead by what the kit comes later, no more", () => {
    const { song: plain, audio } = testSong(60000);
    const song = busy(plain);
    const { live, ring, run } = playing(song);
    fill(ring, song, audio, 25600, 260, 0);
    live.receive({ type: "play", on: true });
    run(40);
    const chain = song.mics[0]!.chain.toSpliced(-1, 0, newProcessor("kick", "clipper", true));
    live.receive({ type: "operation", operation: { op: "setChain", owner: "kick", chain } });
    const told = run(120);
    for (let b = 4; b < told.length; b++)
      expect(Math.abs(told[b]! - told[b - 4]! - 4 * blockFrames)).toBeLessThan(8 * blockFrames);
  });
});
