// What layers cost: eight of them placed at strokes twice a second and read for a minute, against eight recordings that are copied.
import { laneFrames } from "../../src/core/lanes/laneMemory";
import { placeStrokes, type PlacedSound } from "../../src/core/engine/oneShots/placeStrokes";
import { readLayer } from "../../src/core/engine/oneShots/readLayer";
import { memoryReader } from "../../src/core/engine/renderSong";
import { joinShots } from "../../src/core/layers/joinShots";
import { layerMic } from "../../src/core/layers/layerMic";
import { madeShots } from "../../src/core/layers/madeShots";
import { newSong } from "../../src/core/song/create";
import type { Hit } from "../../src/core/song/song";
import { median, note, seconds, spreadOf } from "./table";

const rate = 48000;
const minute = 60 * rate;
const count = 8;
const rounds = 5;

export function layerCosts(): void {
  const { channels, sounds } = joinShots(madeShots("snare", rate));
  const hits = Array.from({ length: 480 }, (_, k): Hit => ({
    piece: "snare",
    time: 0.1 + k / 8,
    levelDb: -6 - (k % 5),
    ghost: false,
    kind: "stroke",
    sure: 1,
  }));
  const song = { ...newSong("bench", rate, []), frames: minute, hits };
  const facts = { audio: null, drum: "snare", sounds, channels: 1, frames: channels[0]!.length } as const;
  const mics = Array.from({ length: count }, (_, n) => layerMic(song, { id: `l${n}`, ...facts }));
  const read = memoryReader([channels])(0, 0);
  const recording = memoryReader([[new Float32Array(minute).fill(0.1)]])(0, 0);
  const out = new Float32Array(laneFrames);
  const layered = (all: readonly (readonly PlacedSound[])[]) => {
    for (let at = 0; at < minute; at += laneFrames)
      for (const placed of all) readLayer(placed, read, at, laneFrames, out);
  };
  const copied = () => {
    for (let at = 0; at < minute; at += laneFrames)
      for (let n = 0; n < count; n++) recording(at, laneFrames, out, 0);
  };
  const times: number[] = [];
  const plain: number[] = [];
  const placing: number[] = [];
  for (let r = 0; r < rounds; r++) {
    const placed: PlacedSound[][] = [];
    placing.push(seconds(() => mics.forEach((m) => placed.push(placeStrokes(song, m)))));
    times.push(seconds(() => layered(placed)));
    plain.push(seconds(copied));
  }
  note({
    name: "8 layers read for a minute, 8 strokes a second: share of a core",
    value: (100 * median(times)) / 60,
    unit: "%",
    spread: spreadOf(times),
  });
  note({ name: "the same against 8 recordings copied", value: median(times) / median(plain), unit: "x" });
  note({ name: "8 layers of 480 strokes placed", value: 1000 * median(placing), unit: "ms" });
}
