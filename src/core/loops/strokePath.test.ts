import { describe, expect, test } from "@jest/globals";
import { beatSampleRate, makeBeat } from "../../../demo/beatSong";
import { blockFrames, Engine } from "../engine/engine";
import { memoryReader, renderSong } from "../engine/renderSong";
import { gainToDb, median } from "../signal/level";
import { newSong } from "../song/create";
import { applyOperation } from "../song/operations";
import type { Mic, Song } from "../song/song";
import { testMic } from "../testing/songs";
import { loopDrums, type LoopDrum } from "./loopDrums";
import { strokePath, strokeWays } from "./strokePath";

const rate = beatSampleRate;
const { files, strokes } = makeBeat();
const audio = files[0]!.channels.map((x) => x.subarray(0, 12 * rate));
const loop: Mic = {
  ...testMic("loop", "loop", "pair", audio[0]!.length, audio.length),
  file: "Break loop.wav",
};
const early = strokes.filter((s) => s.time < 11.5);
const song: Song = {
  ...newSong("Beat", rate, [loop]),
  hits: early.map((s) => ({
    piece: s.drum,
    time: s.time,
    levelDb: -6,
    ghost: s.ghost,
    kind: "stroke",
    sure: 1,
  })),
};

/** Strokes of a drum near which no other drum is struck. */
const alone = (drum: LoopDrum): number[] =>
  early
    .filter((s) => s.drum === drum && early.every((o) => o.drum === drum || Math.abs(o.time - s.time) > 0.2))
    .map((s) => s.time);

async function rendered(of: Song, wanted: string): Promise<Float32Array> {
  const y = new Float32Array(of.frames);
  let at = 0;
  await renderSong(
    of,
    memoryReader([audio]),
    { kit: true, stems: false, buses: true },
    (name, channels, n) => {
      if (name !== wanted) return;
      y.set(channels[0]!.subarray(0, Math.min(n, y.length - at)), at);
      at += n;
    },
  );
  return y;
}
const levelAt = (y: Float32Array, time: number): number => {
  const part = y.subarray(Math.round((time - 0.01) * rate), Math.round((time + 0.1) * rate));
  return gainToDb(Math.sqrt(part.reduce((sum, v) => sum + v * v, 0) / part.length));
};

describe.each(loopDrums)("what follows the strokes of the %s in a whole loop", (drum) => {
  test.each(strokeWays)("%s sounds at its strokes and at no others", async (way) => {
    const { id, operation } = strokePath(song, loop, drum, way);
    const path = await rendered(applyOperation(song, operation).song, `bus:${id}`);
    const own = early.filter((s) => s.drum === drum && !s.ghost).map((s) => levelAt(path, s.time));
    const others = loopDrums.filter((d) => d !== drum).flatMap((d) => alone(d).map((t) => levelAt(path, t)));
    expect(median(own)).toBeGreaterThan(-70);
    if (others.length > 0) expect(median(others)).toBeLessThan(median(own) - 40);
  });
});

test("the loop itself stays, and one step back nothing is left", async () => {
  const { operation } = strokePath(song, loop, "kick", "drive");
  const { song: more, inverse } = applyOperation(song, operation);
  expect(more.mics[0]!.chain).toEqual(loop.chain);
  expect(more.buses.find((b) => b.name === "Break loop: drive of kick")).toMatchObject({
    piece: "kick",
    kind: "parallel",
  });
  const back = applyOperation(more, inverse).song;
  expect(back.mics).toEqual(song.mics);
  expect(back.buses).toEqual(song.buses);
});

test("a drum without a stroke is refused in words", () => {
  expect(() => strokePath({ ...song, hits: [] }, loop, "snare", "weight")).toThrow(
    "no stroke of the snare is known in Break loop.wav: analyse in Gather, or take it apart",
  );
});

test("a stroke that is taken out by a correction opens nothing any more", async () => {
  const { id, operation } = strokePath(song, loop, "kick", "weight");
  const made = applyOperation(song, operation).song;
  const first = early.find((s) => s.drum === "kick" && s.time > 1)!;
  const without = { ...made, hits: made.hits.filter((h) => h.piece !== "kick" || h.time !== first.time) };
  const [as, less] = [await rendered(made, `bus:${id}`), await rendered(without, `bus:${id}`)];
  expect(levelAt(less, first.time)).toBeLessThan(levelAt(as, first.time) - 40);
});

test("while it plays a path that is told to be of no drum opens no more", () => {
  const { id, operation } = strokePath(song, loop, "kick", "weight");
  const made = applyOperation(song, operation).song;
  const first = early.find((s) => s.drum === "kick" && s.time > 1)!;
  const loudest = (change: (engine: Engine) => void): number => {
    const engine = Engine.of(made);
    const from = Math.round((first.time - 0.1) * rate);
    engine.reset(from);
    change(engine);
    let most = 0;
    for (let at = from; at < from + 0.3 * rate; at += blockFrames) {
      engine.process([audio.map((x) => x.subarray(at, at + blockFrames))], at);
      for (const v of engine.mixer.busOutput(id).buffers[0]!) most = Math.max(most, Math.abs(v));
    }
    return most;
  };
  const none = { ...made, buses: made.buses.map((b) => (b.id === id ? { ...b, piece: null } : b)) };
  expect(loudest(() => {})).toBeGreaterThan(0.01);
  expect(loudest((engine) => engine.update(none))).toBeLessThan(0.001);
});
