import { kitOver } from "../engine/kitOver";
import { judgedSeconds } from "../hits/judgedStretch";
import { measureAudio } from "../measure/measureAudio";
import { thirdOctaveLevels, thirdOctaves } from "../measure/thirdOctaves";
import { designButterworth, filtered } from "../signal/biquad";
import { powerOf, powerToDb } from "../signal/level";
import type { Song } from "../song/song";

/** What of a record or a kit is laid over the other. */
export interface Tonality {
  readonly integrated: number;
  readonly crestDb: number;
  readonly truePeakDb: number;
  /** What lies below 120 Hz against the whole, dB. */
  readonly lowDb: number;
  /** By third octave, dB against its own loudness: two of them lie over each other as if they were played equally loud. */
  readonly bands: readonly number[];
}
export interface BesideRecord {
  readonly kit: Tonality;
  readonly record: Tonality;
}

/** The low end of a kit lies below this, Hz (common practice, no source). */
const lowBelow = 120;

/** Shape  one or two channels of one length. */
export function tonalityOf(channels: readonly Float32Array[], sampleRate: number): Tonality {
  const { integrated, crestDb, truePeakDb } = measureAudio(channels, sampleRate);
  const whole = channels.reduce((sum, x) => sum + powerOf(x), 0);
  const low = channels.reduce(
    (sum, x) => sum + powerOf(filtered(x, designButterworth("low", lowBelow, 4, sampleRate))),
    0,
  );
  return {
    integrated,
    crestDb,
    truePeakDb,
    lowDb: whole > 0 ? powerToDb(low / whole) : -Infinity,
    bands: thirdOctaveLevels(channels, sampleRate).map((level) => level - integrated),
  };
}

/** Differences below this are no talk, and so many are told at most; what lies this far under the loudness is not heard, dB. */
const [worthTelling, told, heardFrom] = [3, 4, -80];

/** Where a kit differs most from a record that is as loud, ascending. Shape  bands as in Tonality, dB. */
export function largestDifferences(
  kit: readonly number[],
  record: readonly number[],
): { readonly frequency: number; readonly by: number }[] {
  return kit
    .map((level, i) => ({
      frequency: thirdOctaves[i]!,
      by: Math.max(heardFrom, level) - Math.max(heardFrom, record[i]!),
    }))
    .filter(({ by }) => Math.abs(by) >= worthTelling)
    .sort((a, b) => Math.abs(b.by) - Math.abs(a.by))
    .slice(0, told)
    .sort((a, b) => a.frequency - b.frequency);
}

/** Frame from which a stretch of a record has most power, in steps of a second. Shape  one or two channels of one length. */
export function loudestFrom(channels: readonly Float32Array[], sampleRate: number, seconds: number): number {
  const second = sampleRate;
  const count = Math.floor(channels[0]!.length / second);
  const powers = Array.from({ length: count }, (_, s) =>
    channels.reduce((sum, x) => sum + powerOf(x.subarray(s * second, (s + 1) * second)), 0),
  );
  let best = { at: 0, sum: -1 };
  for (let at = 0; at <= Math.max(0, count - seconds); at++) {
    const sum = powers.slice(at, at + seconds).reduce((a, b) => a + b, 0);
    if (sum > best.sum) best = { at, sum };
  }
  return best.at * second;
}

/** The stretch by which a record is judged, as long as a kit's, and the frame at which it begins. Shape  one or two channels of one length. */
export function loudestOf(
  channels: readonly Float32Array[],
  sampleRate: number,
): { readonly at: number; readonly seconds: number; readonly stretch: Float32Array[] } {
  const seconds = Math.max(1, Math.min(judgedSeconds, Math.floor(channels[0]!.length / sampleRate)));
  const at = loudestFrom(channels, sampleRate, seconds);
  return { at, seconds, stretch: channels.map((x) => x.slice(at, at + seconds * sampleRate)) };
}

/** The kit over a stretch of the recording beside a stretch of a record. Shape  stretch as `kitOver`; record one or two channels. */
export const besideRecord = (
  song: Song,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
  record: readonly Float32Array[],
): BesideRecord => ({
  kit: tonalityOf(kitOver(song, stretch, from), song.sampleRate),
  record: tonalityOf(record, song.sampleRate),
});
