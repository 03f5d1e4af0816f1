import { dbToGain, gainToDb } from "../signal/level";
import type { ShotAudio } from "./joinShots";

/** A sound found in a file, frames. */
export interface FoundShot {
  readonly from: number;
  readonly frames: number;
  /** Frames from its first to its transient. */
  readonly onset: number;
  readonly levelDb: number;
}

/** What lies this far under the loudest sample is silence, dB; so long it parts two sounds, s (common practice, no source). */
const silenceDb = 60;
const gapSeconds = 0.1;
/** A transient is where a sound first comes within so much of its peak, dB. */
const transientDb = 12;
/** What is kept before a transient at most, s. */
const leadSeconds = 0.01;
/** A sound without a peak above this is none, dBFS. */
const quietest = -60;
/** Sounds are cut at so many s at most. */
export const longestShot = 30;

/**
 * One-shots in a file: sounds that silence parts, each with the place of its transient. A file with one sound gives one.
 * Shape  channels [channel][frame].
 * Errors  RangeError for a file that is silent or has fewer than 32 frames of sound.
 */
export function findOneShots(channels: readonly Float32Array[], sampleRate: number): FoundShot[] {
  const { length } = channels[0] ?? new Float32Array(0);
  const level = new Float32Array(length);
  for (const x of channels) for (let i = 0; i < length; i++) level[i] = Math.max(level[i]!, Math.abs(x[i]!));
  let most = 0;
  for (const v of level) if (v > most) most = v;
  if (gainToDb(most) < quietest) throw new RangeError("it is silent: no one-shot is in it");
  const silence = most * dbToGain(-silenceDb);
  const gap = Math.round(gapSeconds * sampleRate);
  const found: FoundShot[] = [];
  let begin = -1;
  let last = -1;
  const close = () => {
    if (begin >= 0) found.push(shotIn(level, begin, last + 1, sampleRate));
    begin = -1;
  };
  for (let i = 0; i < length; i++) {
    if (level[i]! <= silence) continue;
    if (begin >= 0 && i - last > gap) close();
    if (begin < 0) begin = i;
    last = i;
  }
  close();
  const whole = found.filter((s) => s.frames >= leastFrames);
  if (whole.length === 0)
    throw new RangeError(
      `it has ${length} frames and no sound of ${leastFrames} or more: no one-shot is in it`,
    );
  return whole;
}

/** The one-shots of a named file, as sounds of a layer. Errors  as findOneShots. */
export function shotsOfFile(
  name: string,
  channels: readonly Float32Array[],
  sampleRate: number,
): ShotAudio[] {
  const found = findOneShots(channels, sampleRate);
  return found.map(({ from, frames, ...shot }, n) => ({
    ...shot,
    name: found.length > 1 ? `${name} ${n + 1}` : name,
    audio: channels.map((x) => x.slice(from, from + frames)),
    cleanDb: null,
    ghost: false,
    on: true,
  }));
}

/** A one-shot has this many frames at least. */
const leastFrames = 32;

function shotIn(level: Float32Array, from: number, to: number, sampleRate: number): FoundShot {
  const end = Math.min(to, from + Math.round(longestShot * sampleRate));
  let peak = 0;
  for (let i = from; i < end; i++) peak = Math.max(peak, level[i]!);
  const near = peak * dbToGain(-transientDb);
  let transient = from;
  while (level[transient]! < near) transient++;
  const first = Math.max(from, transient - Math.round(leadSeconds * sampleRate));
  return { from: first, frames: end - first, onset: transient - first, levelDb: gainToDb(peak) };
}
