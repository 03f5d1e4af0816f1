/** How far a cleaned mic is from its drum's own sound, and what of the drum is left. */
export interface CleanScore {
  /** Scale-invariant signal-to-distortion ratio of the mic as recorded, dB, and what cleaning adds to it. */
  readonly siSdrDb: number;
  readonly siSdrGainDb: number;
  /** Energy between the strokes, where the drum itself is silent, against the recording, dB; NaN: never. */
  readonly bleedDb: number;
  /** Energy of every main stroke in its first 80 ms against the drum's own, dB. */
  readonly strokesDb: readonly number[];
  /** Ghost notes that keep their energy within 3 dB, of all. */
  readonly ghostsKept: number;
  readonly ghosts: number;
  /** Steps between neighbouring frames larger than any of the recording's near them, where the drum is silent. */
  readonly clicks: number;
}

/**
 * Scale-invariant signal-to-distortion ratio of an estimate, dB.
 * Source  Le Roux, Wisdom, Erdogan, Hershey, "SDR - half-baked or well done?", ICASSP 2019, equation 3.
 */
export function siSdr(truth: Float32Array, estimate: Float32Array): number {
  let [tt, te, ee] = [0, 0, 0];
  for (let i = 0; i < truth.length; i++) {
    tt += truth[i]! ** 2;
    te += truth[i]! * estimate[i]!;
    ee += estimate[i]! ** 2;
  }
  const target = te ** 2 / tt;
  return 10 * Math.log10(target / Math.max(ee - target, 1e-30));
}

/** A drum is silent where its own sound lies so far under its loudest 20 ms, dB. */
const silentUnder = 60;

/**
 * Scores a cleaned mic against the drum's own sound in it.
 * Shape   equally long channels; strokes as they arrive in the mic, frames.
 */
export function cleanScore(
  own: Float32Array,
  raw: Float32Array,
  cleaned: Float32Array,
  mains: readonly number[],
  ghosts: readonly number[],
  sampleRate: number,
): CleanScore {
  const energy = (x: Float32Array, from: number, to: number) => {
    let sum = 1e-12;
    for (let i = Math.max(0, Math.round(from)); i < Math.min(x.length, Math.round(to)); i++)
      sum += x[i]! ** 2;
    return sum;
  };
  const block = Math.round(0.02 * sampleRate);
  const blocks = Math.floor(own.length / block);
  const loudness = Array.from({ length: blocks }, (_, b) => energy(own, b * block, (b + 1) * block));
  const limit = Math.max(...loudness) / 10 ** (silentUnder / 10);
  const silent = loudness.map((e) => e < limit);
  let [before, after, clicks] = [0, 0, 0];
  const largestStep = (x: Float32Array, from: number) => {
    let most = 0;
    for (let i = Math.max(1, from); i < from + block; i++) most = Math.max(most, Math.abs(x[i]! - x[i - 1]!));
    return most;
  };
  silent.forEach((rests, b) => {
    if (!rests) return;
    before += energy(raw, b * block, (b + 1) * block);
    after += energy(cleaned, b * block, (b + 1) * block);
    if (!silent[b - 1] || !silent[b + 1]) return;
    const around = Math.max(...[-1, 0, 1].map((d) => largestStep(raw, (b + d) * block)));
    if (largestStep(cleaned, b * block) > 1.1 * around + 1e-4) clicks++;
  });
  const change = (from: number, to: number) =>
    10 * Math.log10(energy(cleaned, from, to) / energy(own, from, to));
  const raised = siSdr(own, raw);
  return {
    siSdrDb: raised,
    siSdrGainDb: siSdr(own, cleaned) - raised,
    bleedDb: before > 0 ? 10 * Math.log10(after / before) : NaN,
    strokesDb: mains.map((f) => change(f - 0.001 * sampleRate, f + 0.08 * sampleRate)),
    ghostsKept: ghosts.filter((f) => change(f - 0.001 * sampleRate, f + 0.04 * sampleRate) > -3).length,
    ghosts: ghosts.length,
    clicks,
  };
}
