import { describe, expect, test } from "@jest/globals";
import { dbToGain } from "../../signal/level";
import { newLayer } from "../../song/layer";
import type { Hit, Layer, LayerMic, LayerStroke, OneShot, Song } from "../../song/song";
import { applyOperation } from "../../song/operations";
import { noise } from "../../testing/signals";
import { testMic, testSong } from "../../testing/songs";
import { memoryReader, renderSong } from "../renderSong";
import { hitsOf } from "../strokesOf";
import { chooseSounds } from "./chooseSounds";
import { placeStrokes } from "./placeStrokes";
import { readLayer } from "./readLayer";
import { readingsOf, sameReadings } from "./readings";

const shot = (name: string, from: number, more: Partial<OneShot> = {}): OneShot => ({
  name,
  from,
  frames: 1000,
  onset: 0,
  levelDb: -6,
  cleanDb: null,
  on: true,
  ghost: false,
  ...more,
});
const stroke = (time: number, levelDb = -8, ghost = false): LayerStroke => ({ time, levelDb, ghost });
const hit = (time: number, levelDb = -8, ghost = false): Hit => ({
  piece: "snare",
  time,
  levelDb,
  ghost,
  kind: "stroke",
  sure: 1,
});

describe("which sound a stroke is given", () => {
  const layer = (more: Partial<Layer>): Layer => ({ ...newLayer("snare", []), ...more });
  test("alternates take turns, and none follows itself", () => {
    const sounds = [shot("a", 0), shot("b", 1000), shot("c", 2000)];
    const names = chooseSounds(
      layer({ sounds }),
      [0, 1, 2, 3, 4, 5].map((t) => stroke(t)),
    ).map((c) => c.sound.name);
    expect(names).toEqual(["a", "b", "c", "a", "b", "c"]);
  });
  test("a soft sound is played at soft strokes, also between two alternates", () => {
    const sounds = [shot("loud", 0), shot("loud too", 1000), shot("soft", 2000, { levelDb: -20 })];
    const names = chooseSounds(layer({ sounds }), [stroke(0, -6), stroke(1, -20), stroke(2, -6)]).map(
      (c) => c.sound.name,
    );
    expect(names).toEqual(["loud", "soft", "loud too"]);
  });
  test.each([
    [100, -4],
    [50, -2],
    [0, 0],
  ])("with %i %% of following, a stroke 4 dB under the usual one is %d dB softer", (follow, wanted) => {
    const strokes = [stroke(0), stroke(1), stroke(2, -12), stroke(3), stroke(4)];
    const chosen = chooseSounds(layer({ sounds: [shot("a", 0)], follow }), strokes);
    expect(20 * Math.log10(chosen[2]!.gain / chosen[0]!.gain)).toBeCloseTo(wanted, 6);
  });
  test("sounds of other levels come out alike at alike strokes", () => {
    const sounds = [shot("a", 0, { levelDb: -6 }), shot("b", 1000, { levelDb: -7 })];
    const [a, b] = chooseSounds(layer({ sounds }), [stroke(0), stroke(1)]);
    expect(b!.gain / a!.gain).toBeCloseTo(dbToGain(1), 6);
  });
  test("ghost notes stay out, or have sounds of their own, or none where there are none", () => {
    const sounds = [shot("main", 0), shot("ghost", 1000, { ghost: true, levelDb: -26 })];
    const strokes = [stroke(0), stroke(1, -28, true), stroke(2)];
    const named = (ghosts: Layer["ghosts"], of = sounds) =>
      chooseSounds(layer({ sounds: of, ghosts }), strokes).map((c) => c.sound.name);
    expect(named("leave")).toEqual(["main", "main"]);
    expect(named("own")).toEqual(["main", "ghost", "main"]);
    expect(named("own", [shot("main", 0)])).toEqual(["main", "main"]);
    expect(named("play", [shot("main", 0)])).toHaveLength(3);
  });
  test("no sound, no stroke: nothing is played", () => {
    expect(chooseSounds(layer({ sounds: [shot("a", 0, { on: false })] }), [stroke(0)])).toEqual([]);
    expect(chooseSounds(layer({ sounds: [shot("a", 0)] }), [])).toEqual([]);
  });
});

/** A song whose snare has a layer, and the layer's file. */
function layered(more: Partial<Layer> = {}, hits = [hit(0.1), hit(0.2), hit(0.3)]) {
  const { song: plain, audio } = testSong();
  const file = noise(3000, 9);
  const mic: LayerMic = {
    ...testMic("layer", "sample", "close", file.length),
    level: 0,
    layer: { ...newLayer("snare", [shot("a", 100, { onset: 40 }), shot("b", 1500, { onset: 0 })]), ...more },
  };
  const song: Song = { ...plain, mics: [...plain.mics, mic], hits };
  return { song, mic, file, audio: [...audio, [file]] };
}
const read = (file: Float32Array) => memoryReader([[file]])(0, 0);

describe("where the sounds of a layer are played", () => {
  test("the transient lies on the stroke to the frame, and the sound is the file's to the bit", () => {
    const { song, mic, file } = layered({ ringsOn: true });
    const out = new Float32Array(song.frames);
    readLayer(placeStrokes(song, mic), read(file), 0, song.frames, out);
    // The strokes lie at frames 4800, 9600 and 14400.
    expect(out.subarray(4800 - 40, 4800 + 600)).toEqual(file.subarray(100, 740));
    expect(out.subarray(9600, 9600 + 600)).toEqual(file.subarray(1500, 2100));
    expect(out.subarray(0, 4760).every((v) => v === 0)).toBe(true);
  });
  test("any split into blocks gives the same frames", () => {
    const { song, mic, file } = layered({ ringsOn: true }, [hit(0.1), hit(0.11), hit(0.115), hit(0.3)]);
    const placed = placeStrokes(song, mic);
    const whole = new Float32Array(song.frames);
    readLayer(placed, read(file), 0, song.frames, whole);
    const parts = new Float32Array(song.frames);
    for (let at = 0, size = 1; at < song.frames; at += size, size = (size * 7) % 501 || 1)
      readLayer(placed, read(file), at, Math.min(size, song.frames - at), parts, at);
    expect(parts).toEqual(whole);
  });
  test("a new stroke ends the sound before it within the fade, or lets it ring on", () => {
    const hits = [hit(0.1), hit(0.11)];
    const fade = 0.001;
    const ended = layered({ fade, sounds: [shot("a", 0)] }, hits);
    const first = placeStrokes(ended.song, ended.mic)[0]!;
    expect(first).toMatchObject({ at: 4800, frames: 480 + 48, fade: 48 });
    const ringing = layered({ fade, ringsOn: true, sounds: [shot("a", 0)] }, hits);
    expect(placeStrokes(ringing.song, ringing.mic)[0]).toMatchObject({ at: 4800, frames: 1000 });
  });
  test("tightening moves them whole, uncut, and as played they stay", () => {
    const { song, mic } = layered();
    const edits = [{ at: 9000, shift: 240, fade: 48, likeness: 1, jumpDb: null }];
    const moved = { ...song, edits };
    expect(placeStrokes(moved, mic).map((p) => p.on)).toEqual([4800, 9600 + 240, 14400 + 240]);
    expect(placeStrokes(moved, mic, false).map((p) => p.on)).toEqual([4800, 9600, 14400]);
    expect([...hitsOf(moved, mic)]).toEqual([4800, 9840, 14640]);
  });
  test("a stroke is moved by what was measured there, one that was not by the middle of the others", () => {
    const shifts = [
      { time: 0.1, frames: -30 },
      { time: 0.2, frames: -20 },
    ];
    const { song, mic } = layered({ shifts });
    expect(placeStrokes(song, mic).map((p) => p.on)).toEqual([4770, 9580, 14375]);
  });
  test("a stroke that is turned over sounds as before with the other sign", () => {
    const plain = layered({ shifts: [{ time: 0.2, frames: -20 }] });
    const turned = layered({ shifts: [{ time: 0.2, frames: -20, turned: true }] });
    const placed = placeStrokes(turned.song, turned.mic);
    expect(placed.map((p) => p.gain < 0)).toEqual([false, true, false]);
    expect(placed.map((p) => ({ ...p, gain: Math.abs(p.gain) }))).toEqual(
      placeStrokes(plain.song, plain.mic),
    );
  });
  test("it plays strokes of its own where it has some", () => {
    const { song, mic } = layered({ strokes: [stroke(0.25)] });
    expect(placeStrokes(song, mic).map((p) => p.on)).toEqual([12000]);
  });
  test("what was placed stays the same list until something it hangs on changes", () => {
    const { song } = layered();
    const louder = applyOperation(song, { op: "setMic", mic: "snare", values: { level: -3 } }).song;
    const lists = (of: Song) => readingsOf(of).map((r) => r.placed);
    lists(louder).forEach((list, m) => expect(list).toBe(lists(song)[m]));
    const fewer = applyOperation(song, { op: "setSong", values: { hits: song.hits.slice(1) } }).song;
    expect(sameReadings(readingsOf(song), readingsOf(fewer))).toBe(false);
  });
  test("readings are the same where other lists say the same, as those that the server gives back", () => {
    const { song } = layered();
    const edits = [{ at: 900, shift: 40, fade: 10, likeness: 1, jumpDb: null }];
    const cut = { ...song, edits };
    expect(sameReadings(readingsOf(cut), readingsOf(structuredClone(cut)))).toBe(true);
    const other = { ...cut, edits: [{ ...edits[0]!, shift: 41 }] };
    expect(sameReadings(readingsOf(cut), readingsOf(other))).toBe(false);
  });
});

test("a render has the layer in its stem and in the kit, with every thread and window", async () => {
  const { song, file, audio } = layered({ ringsOn: true });
  const stem = new Float32Array(song.frames);
  const kit: number[] = [];
  const write = (into: Float32Array) => {
    let at = 0;
    return (channels: readonly Float32Array[], frames: number) => {
      into.set(channels[0]!.subarray(0, frames), at);
      at += frames;
    };
  };
  const toStem = write(stem);
  await renderSong(
    song,
    memoryReader(audio),
    { kit: true, stems: true, buses: false },
    (name, channels, frames) => {
      if (name === "stem:layer") toStem(channels, frames);
      if (name === "kit") kit.push(frames);
    },
  );
  expect(stem.subarray(9600, 9600 + 600)).toEqual(file.subarray(1500, 2100));
  expect(kit.reduce((sum, n) => sum + n, 0)).toBe(song.frames);
});

test("what a layer may hold is checked by name", () => {
  const { song, mic } = layered();
  const set = (layer: Layer) => () => applyOperation(song, { op: "setMic", mic: "layer", values: { layer } });
  expect(set({ ...mic.layer, follow: 40 })).not.toThrow();
  expect(set({ ...mic.layer, follow: 400 })).toThrow("follow");
  expect(set({ ...mic.layer, ghosts: "some" as "play" })).toThrow("ghosts");
  expect(set({ ...mic.layer, sounds: Array.from({ length: 65 }, () => shot("a", 0)) })).toThrow("sounds");
});
