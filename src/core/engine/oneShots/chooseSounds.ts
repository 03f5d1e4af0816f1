import { dbToGain, median, quantile } from "../../signal/level";
import type { Layer, LayerStroke, OneShot } from "../../song/song";

/** Which sound a stroke is given, and how loud. */
export interface ChosenSound {
  readonly stroke: LayerStroke;
  readonly sound: OneShot;
  readonly gain: number;
}

/** Sounds that are no more than this from the nearest in level stand for each other, dB (common practice, no source). */
const alikeDb = 1.5;
/** A sound that would follow itself makes room for another that is no more than this from it in level, dB. */
const insteadDb = 8;

/** Sounds that fit a level: the nearest first, among those alike the one that has waited for longest. `last`: when each was played. */
function fitting(sounds: readonly OneShot[], levelDb: number, last: ReadonlyMap<OneShot, number>): OneShot[] {
  const off = (s: OneShot) => Math.abs(s.levelDb - levelDb);
  const least = Math.min(...sounds.map(off));
  return sounds
    .filter((s) => off(s) <= least + insteadDb)
    .map((s) => ({ s, far: off(s) <= least + alikeDb ? 0 : off(s), last: last.get(s) ?? -1 }))
    .sort((a, b) => a.far - b.far || a.last - b.last)
    .map(({ s }) => s);
}

/** Strokes and sounds that belong together: all, or ghost notes and their own sounds, and the others and theirs. */
interface Group {
  readonly sounds: readonly OneShot[];
  /** Level of the usual stroke and of the loudest ones, of the loudest sound. */
  readonly usualDb: number;
  readonly loudDb: number;
  readonly topDb: number;
}
function groupOf(sounds: readonly OneShot[], strokes: readonly LayerStroke[]): Group | null {
  const mains = strokes.filter((s) => !s.ghost);
  const levels = (mains.length > 0 ? mains : strokes).map((s) => s.levelDb);
  if (sounds.length === 0 || levels.length === 0) return null;
  const topDb = Math.max(...sounds.map((s) => s.levelDb));
  return { sounds, usualDb: median(levels), loudDb: quantile(levels, 0.9), topDb };
}

/**
 * Gives every stroke a sound and a gain. A stroke as loud as the loudest is given the loudest sounds, a softer one those as much softer; of
 * sounds that fit alike that one which has waited for longest, never the same twice in a row where there is another.
 * The usual main stroke plays at the level of the loudest sound; the others follow by the layer's share of their difference.
 */
export function chooseSounds(layer: Layer, strokes: readonly LayerStroke[]): ChosenSound[] {
  const sounds = layer.sounds.filter((s) => s.on);
  const own = layer.ghosts === "own";
  const part = (ghost: boolean) =>
    groupOf(
      own ? sounds.filter((s) => s.ghost === ghost) : sounds,
      own ? strokes.filter((s) => s.ghost === ghost) : strokes,
    );
  const mains = part(false);
  const ghosts = layer.ghosts === "leave" ? null : own ? part(true) : mains;
  const last = new Map<OneShot, number>();
  let before: OneShot | null = null;
  const chosen: ChosenSound[] = [];
  for (const stroke of strokes) {
    const group = stroke.ghost ? ghosts : mains;
    if (!group) continue;
    const found = fitting(group.sounds, group.topDb + Math.min(0, stroke.levelDb - group.loudDb), last);
    const sound: OneShot = found.find((s) => s !== before) ?? found[0]!;
    last.set(sound, chosen.length);
    before = sound;
    const follow = ((stroke.levelDb - group.usualDb) * layer.follow) / 100;
    chosen.push({ stroke, sound, gain: dbToGain(group.topDb - sound.levelDb + follow) });
  }
  return chosen;
}
