import { median } from "../signal/level";
import type { Hit } from "../song/song";

/** A grace note comes at most this long before its stroke, s, and is this much quieter, dB. */
const graceWithin = 0.045;
const graceUnder = 5;
/** Strokes of a roll follow one another at least this quickly, s, and are at least this many. */
const rollGap = 0.07;
const rollStrokes = 4;

/**
 * Names grace notes and rolls among the strokes of one drum.
 * Shape   hits of one drum, ascending.
 */
export function withKinds(hits: readonly Hit[]): Hit[] {
  const isGrace = hits.map((h, i) => {
    const next = hits[i + 1];
    return next !== undefined && next.time - h.time < graceWithin && next.levelDb > h.levelDb + graceUnder;
  });
  const inRoll = new Set<number>();
  for (let from = 0; from < hits.length;) {
    let to = from + 1;
    while (to < hits.length && hits[to]!.time - hits[to - 1]!.time < rollGap) to++;
    if (to - from >= rollStrokes) for (let i = from; i < to; i++) inRoll.add(i);
    from = to;
  }
  return hits.map((h, i) => ({ ...h, kind: inRoll.has(i) ? "roll" : isGrace[i] ? "grace" : "stroke" }));
}

/** dB by which strokes on the rim are brighter than those on the skin, and how many there must be. */
const rimBrighter = 9;
const fewestRims = 3;

/**
 * Names strokes on the rim (side stick, rim clicks) among a snare's main strokes: they have the stick and hardly the
 * skin, and stand apart from the rest. A snare whose strokes are all alike has none, or only these: then nothing tells.
 * Shape   `brightness` in dB, one a stroke.
 */
export function withRims(hits: readonly Hit[], brightness: readonly number[]): Hit[] {
  const mains = hits.flatMap((h, i) => (h.ghost || h.kind !== "stroke" ? [] : [i]));
  const sorted = [...mains].sort((a, b) => brightness[a]! - brightness[b]!);
  let gap = { width: 0, at: 0 };
  for (let i = 1; i < sorted.length; i++) {
    const width = brightness[sorted[i]!]! - brightness[sorted[i - 1]!]!;
    if (width > gap.width) gap = { width, at: i };
  }
  const [skin, rim] = [sorted.slice(0, gap.at), sorted.slice(gap.at)];
  const level = (list: readonly number[]) => median(list.map((i) => brightness[i]!));
  if (
    Math.min(skin.length, rim.length) < fewestRims ||
    level(rim) - level(skin) < rimBrighter ||
    gap.width < 0.4 * rimBrighter
  )
    return [...hits];
  const onRim = new Set(rim);
  return hits.map((h, i) => (onRim.has(i) ? { ...h, kind: "rim" } : h));
}
