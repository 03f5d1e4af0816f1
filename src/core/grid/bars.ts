import { firstAbove } from "../signal/ascending";
import type { Tempo } from "../song/song";

/** Where a stretch of bars of one meter begins. */
interface Stretch {
  readonly beat: number;
  readonly beatsPerBar: number;
  readonly compound: boolean;
  /** Number of its first bar. */
  readonly bar: number;
}

/** Stretches of equal meter; the first begins behind the pick-up with bar 1. A meter may come in only on a bar line. */
function stretchesOf(tempo: Pick<Tempo, "pickUp" | "beatsPerBar" | "compound" | "meters">): Stretch[] {
  const { pickUp, beatsPerBar, compound, meters } = tempo;
  const list: Stretch[] = [{ beat: pickUp, beatsPerBar, compound, bar: 1 }];
  for (const m of meters) {
    const last = list[list.length - 1]!;
    if (m.beat < last.beat) continue;
    const bars = Math.ceil((m.beat - last.beat) / last.beatsPerBar);
    list.push({ ...m, bar: last.bar + bars });
  }
  return list;
}

export interface BarBeat {
  /** 0 in the pick-up. */
  readonly bar: number;
  /** From 1. */
  readonly beat: number;
  readonly compound: boolean;
}

/** Bar and beat of a beat's index. */
export function barOf(tempo: Tempo, index: number): BarBeat {
  const stretches = stretchesOf(tempo);
  const s = [...stretches].reverse().find((x) => x.beat <= index);
  if (!s) {
    // The pick-up counts towards the bar line behind it.
    const beat =
      tempo.beatsPerBar -
      ((((tempo.pickUp - index - 1) % tempo.beatsPerBar) + tempo.beatsPerBar) % tempo.beatsPerBar);
    return { bar: 0, beat, compound: tempo.compound };
  }
  const into = index - s.beat;
  return {
    bar: s.bar + Math.floor(into / s.beatsPerBar),
    beat: 1 + (into % s.beatsPerBar),
    compound: s.compound,
  };
}

/** Index of the last beat at or before an instant; -1 before the first. */
export const beatAt = (beats: readonly number[], seconds: number): number =>
  firstAbove(beats, seconds + 1e-6) - 1;

/** Bar and beat of an instant, counted from 1, as "12.3"; before the first beat "0.0". */
export function barAt(tempo: Tempo, seconds: number): string {
  const index = beatAt(tempo.beats, seconds);
  if (index < 0) return "0.0";
  const { bar, beat } = barOf(tempo, index);
  return `${bar}.${beat}`;
}

/** Bar lines of the song: number and instant of each first beat. */
export function barLines(tempo: Tempo): { bar: number; seconds: number; beats: number }[] {
  const stretches = stretchesOf(tempo);
  return stretches.flatMap((s, i) => {
    const end = Math.min(tempo.beats.length, stretches[i + 1]?.beat ?? Infinity);
    const lines = [];
    for (let b = s.beat, bar = s.bar; b < end; b += s.beatsPerBar, bar++)
      lines.push({ bar, seconds: tempo.beats[b]!, beats: Math.min(s.beatsPerBar, end - b) });
    return lines;
  });
}

/** True for a beat's index on which a bar begins. */
export const beginsBar = (tempo: Tempo, index: number): boolean => barOf(tempo, index).beat === 1;
