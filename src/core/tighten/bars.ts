import type { Tempo } from "../song/song";

/** Bar and beat of an instant, counted from 1, as "12.3"; before the first beat "0.0". */
export function barAt({ beats, beatsPerBar }: Tempo, seconds: number): string {
  let low = 0;
  let high = beats.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (beats[middle]! <= seconds + 1e-6) low = middle + 1;
    else high = middle;
  }
  if (low === 0) return "0.0";
  const beat = low - 1;
  return `${1 + Math.floor(beat / beatsPerBar)}.${1 + (beat % beatsPerBar)}`;
}
