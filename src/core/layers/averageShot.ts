import { median, peakOf, gainToDb, powerToDb } from "../signal/level";
import type { CapturedShot } from "./captureOneShots";

/** The part of a stroke by which others are laid over it, and how far they may be moved, s. */
const comparedSeconds = 0.03;
const reachSeconds = 0.001;

/** Frames by which `x` must be read later so that it lies best over `model`; both begin at their transients' lead. */
function lagOver(model: Float32Array, x: Float32Array, frames: number, reach: number): number {
  let best = 0;
  let most = -Infinity;
  for (let lag = -reach; lag <= reach; lag++) {
    let sum = 0;
    for (let i = Math.max(0, -lag); i < frames && i + lag < x.length; i++)
      sum += model[i]! * (x[i + lag] ?? 0);
    if (sum > most) {
      most = sum;
      best = lag;
    }
  }
  return best;
}

/**
 * The average of captured strokes, each as loud as the usual one and laid over the cleanest to the frame: what all have in common stays, what
 * bled into one of them falls by their number. As long as the usual one of them.
 * Errors  RangeError for none.
 */
export function averageShot(shots: readonly CapturedShot[], sampleRate: number): CapturedShot {
  const [model] = shots;
  if (!model) throw new RangeError("there is no stroke to average");
  const frames = Math.round(median(shots.map((s) => s.audio[0]!.length)));
  const level = median(shots.map((s) => s.levelDb));
  const compared = Math.round(comparedSeconds * sampleRate);
  const reach = Math.round(reachSeconds * sampleRate);
  const audio = model.audio.map(() => new Float32Array(frames));
  const count = new Float32Array(frames);
  for (const shot of shots) {
    const lag = lagOver(model.audio[0]!, shot.audio[0]!, compared, reach);
    const gain = 10 ** ((level - shot.levelDb) / 20);
    const { length } = shot.audio[0]!;
    for (let i = Math.max(0, -lag); i < frames && i + lag < length; i++) {
      count[i]!++;
      audio.forEach((y, ch) => (y[i] = y[i]! + gain * shot.audio[ch]![i + lag]!));
    }
  }
  const out = Math.round(0.4 * frames);
  for (const y of audio)
    for (let i = 0; i < frames; i++) {
      const left = (frames - i) / out;
      y[i] = (y[i]! / Math.max(1, count[i]!)) * Math.min(1, left);
    }
  // What differs from stroke to stroke adds up by power: a mean of n has 1/n of it.
  const bleed = shots.reduce((sum, s) => sum + 10 ** (-s.cleanDb / 10), 0) / shots.length ** 2;
  return {
    time: model.time,
    audio,
    onset: model.onset,
    levelDb: gainToDb(Math.max(...audio.map((y) => peakOf(y)))),
    cleanDb: Math.min(60, -powerToDb(bleed)),
    ghost: model.ghost,
  };
}
