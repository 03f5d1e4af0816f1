import { micOf } from "../shape/heardDrums";
import { addedProcessor } from "../song/chainEdits";
import { possibleKeys, type Owner } from "../song/graph";
import type { Operation } from "../song/operations";
import type { Song } from "../song/song";

/** What a detector of `by` can listen to for the strokes of `of`: its main mic, else itself; undefined: neither without a loop. */
export function keyOf(song: Song, of: Owner, by: Owner): Owner | undefined {
  const possible = possibleKeys(song, by.id);
  const main = micOf(song, of);
  return [main, of].find((o) => o !== undefined && possible.some((p) => p.id === o.id));
}

/** A stroke has fallen by this much while what covers it must still be down, dB. */
const body = 6;
/** Times of the compressor that keys something down, s, and its ratio: common practice, no source. */
const times = { attack: 0.001, hold: 0.06, release: 0.12 };
const ratio = 20;

/**
 * A compressor that turns `by` down by `depth` at every stroke of `of`: it begins so far below the softest of them that its
 * body still asks for the whole depth, which is the most that it gives. Null: nothing that it could listen to.
 * Units  depth in dB; levels: peaks of the strokes in what it listens to, dBFS.
 */
export function keyedDown(
  song: Song,
  of: Owner,
  by: Owner,
  depth: number,
  levels: readonly number[],
): Operation | null {
  const key = keyOf(song, of, by);
  if (!key || levels.length === 0 || depth <= 0) return null;
  const sorted = [...levels].sort((a, b) => a - b);
  const soft = sorted[Math.floor(sorted.length / 10)]!;
  const threshold = Math.max(-60, Math.round(soft - body - depth / (1 - 1 / ratio)));
  const { id, operation } = addedProcessor(by, "compressor", undefined, {
    ...times,
    ratio,
    threshold,
    range: depth,
    knee: 0,
    makeup: 0,
  });
  return {
    op: "several",
    operations: [operation, { op: "setProcessor", owner: by.id, processor: id, key: key.id }],
  };
}
