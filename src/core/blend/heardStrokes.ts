import { timesOf } from "../hits/times";
import { anyBetween } from "../signal/ascending";
import type { HeardStrokes } from "../facts/heardStrokes";
import { spreadOver } from "../hits/snippets";
import { strokeLevel } from "../shape/strokeLoudness";
import { dbToPower, powerToDb } from "../signal/level";
import { isDrum, isShell, type Hit, type Mic, type Piece } from "../song/song";
import { stretchOf, type Samples } from "../signal/samples";

/** A stroke is alone when no other drum is struck so long before and behind it, s. */
const clear = { before: 0.12, behind: 0.2 } as const;
/** From so many strokes on a loudness is one; and so many are enough of one drum. */
const fewest = 3;
const most = 60;

/** Main strokes of a drum that are alone, else those that no other shell comes near, else all; at most `most`, spread over the song. */
export function aloneStrokes(hits: readonly Hit[], piece: Piece): Hit[] {
  const own = hits.filter((h) => h.piece === piece && !h.ghost);
  const awayFrom = (others: readonly Hit[]) => {
    const times = timesOf(others);
    return own.filter((h) => !anyBetween(times, h.time - clear.before, h.time + clear.behind));
  };
  const others = hits.filter((h) => h.piece !== piece);
  const found = [awayFrom(others), awayFrom(others.filter((o) => isShell(o.piece)))];
  const kept = found.find((strokes) => strokes.length >= fewest) ?? own;
  return spreadOver(kept, most);
}

/** K-weighted level of strokes in a mic, dB: of a pair the sum of both sides, as BS.1770 has it. */
function levelIn(
  channels: readonly Samples[],
  strokes: readonly Hit[],
  lateBy: number,
  sampleRate: number,
): number {
  const onsets = strokes.map((h) => h.time * sampleRate + lateBy);
  return powerToDb(channels.reduce((sum, x) => sum + dbToPower(strokeLevel(x, onsets, sampleRate)), 0));
}

/** A mic against its drum's main mic, as they lie once it is aligned. */
export interface Partner {
  readonly audio: Samples;
  /** Frames by which the mic comes later, and whether it is turned over against it. */
  readonly delaySamples: number;
  readonly polarity: 1 | -1;
}

/**
 * How loud the drums are in a mic: its own by a close mic, all by a far one; and how much a second mic's strokes are like its main
 * mic's once they are aligned, -1..1: 1, they add up as amplitudes; 0, as powers. Null for a mic of no drum or without strokes.
 * Shape   channels from the song's first frame on; hits in seconds at their drums' main mics.
 */
export function heardStrokes(
  mic: Pick<Mic, "piece" | "lateBy">,
  channels: readonly Samples[],
  hits: readonly Hit[],
  sampleRate: number,
  main: Partner | null = null,
): HeardStrokes | null {
  const far = mic.piece === "overhead" || mic.piece === "room";
  const pieces = far ? [...new Set(hits.map((h) => h.piece))] : [mic.piece].filter(isDrum);
  const heard = pieces.flatMap((piece): [Piece, number][] => {
    const strokes = aloneStrokes(hits, piece);
    return strokes.length < fewest
      ? []
      : [[piece, levelIn(channels, strokes, far ? 0 : mic.lateBy, sampleRate)]];
  });
  if (heard.length === 0) return null;
  const own = heard[0]![1];
  return {
    heard: Object.fromEntries(heard),
    together:
      far || !main ? null : likeness(channels[0]!, main, aloneStrokes(hits, mic.piece), own, sampleRate),
  };
}

/** What the sum of both has beyond their powers, over twice the product of their levels. */
function likeness(
  x: Samples,
  main: Partner,
  strokes: readonly Hit[],
  ownDb: number,
  sampleRate: number,
): number {
  const mainDb = levelIn([main.audio], strokes, 0, sampleRate);
  // Both are brought to one level, so that neither hides the other.
  const gain = main.polarity * Math.sqrt(dbToPower(mainDb - ownDb));
  const shift = Math.round(main.delaySamples);
  const reach = Math.round(0.3 * sampleRate);
  let both = 0;
  for (const { time } of strokes) {
    const at = Math.round(time * sampleRate);
    const from = Math.max(0, at - Math.round(0.1 * sampleRate));
    const here = stretchOf(x, from + shift, reach);
    const sum = stretchOf(main.audio, from, reach).map((v, i) => v + gain * here[i]!);
    both += dbToPower(strokeLevel(sum, [at - from], sampleRate));
  }
  const one = dbToPower(mainDb);
  return Math.max(-1, Math.min(1, (both / strokes.length - 2 * one) / (2 * one)));
}
