/** Smallest value that is divided by. */
const tiny = 1e-9;

/** What a sound is made of: patterns over some looks, and how much of each begins at every look. */
export interface Factors {
  /** By part: [tap * bands + band]. */
  readonly patterns: Float64Array[];
  /** By part and look. */
  readonly gains: Float64Array[];
}

export interface FactorOptions {
  readonly rounds: number;
  /** Rounds after which patterns may change; before that only the gains do. */
  readonly settle?: number;
  /** Parts whose patterns stay. */
  readonly fixed?: readonly boolean[];
  /** Sparseness of the gains by part: larger lets fewer of them be. */
  readonly sparse?: readonly number[];
}

/** The sum of all parts, [look * bands + band]. */
export function sumOf({ patterns, gains }: Factors, looks: number, bands: number): Float64Array {
  const all = new Float64Array(looks * bands).fill(tiny);
  patterns.forEach((_, k) => addPart({ patterns, gains }, k, looks, bands, all));
  return all;
}

/** Adds one part to a sum. */
export function addPart(
  { patterns, gains }: Factors,
  k: number,
  looks: number,
  bands: number,
  into: Float64Array,
): void {
  const pattern = patterns[k]!;
  const gain = gains[k]!;
  const taps = pattern.length / bands;
  for (let t = 0; t < looks; t++) {
    const g = gain[t]!;
    if (g === 0) continue;
    const last = Math.min(taps, looks - t);
    for (let l = 0; l < last; l++) {
      const at = (t + l) * bands;
      const from = l * bands;
      for (let b = 0; b < bands; b++) into[at + b]! += g * pattern[from + b]!;
    }
  }
}

/**
 * Fits patterns and gains to looks so that their sum comes near, by multiplicative updates of the generalised Kullback-Leibler divergence; gains
 * that are zero stay so. Patterns and gains are changed in place.
 * Source  Smaragdis, Non-negative matrix factor deconvolution, ICA 2004 (from memory); updates of both within a round use one sum.
 */
export function fitFactors(
  values: Float64Array,
  looks: number,
  bands: number,
  factors: Factors,
  { rounds, settle = 0, fixed = [], sparse = [] }: FactorOptions,
): void {
  const { patterns, gains } = factors;
  const ratio = new Float64Array(looks * bands);
  for (let round = 0; round < rounds; round++) {
    const now = sumOf(factors, looks, bands);
    for (let i = 0; i < ratio.length; i++) ratio[i] = values[i]! / now[i]!;
    patterns.forEach((pattern, k) => updateGains(pattern, gains[k]!, ratio, looks, bands, sparse[k] ?? 0));
    if (round < settle) continue;
    const again = sumOf(factors, looks, bands);
    for (let i = 0; i < ratio.length; i++) ratio[i] = values[i]! / again[i]!;
    patterns.forEach((pattern, k) => {
      if (!fixed[k]) updatePattern(pattern, gains[k]!, ratio, looks, bands);
    });
  }
}

function updateGains(
  pattern: Float64Array,
  gain: Float64Array,
  ratio: Float64Array,
  looks: number,
  bands: number,
  sparse: number,
): void {
  const taps = pattern.length / bands;
  let weight = tiny + sparse;
  for (const v of pattern) weight += v;
  for (let t = 0; t < looks; t++) {
    if (gain[t] === 0) continue;
    let sum = 0;
    const last = Math.min(taps, looks - t);
    for (let l = 0; l < last; l++) {
      const at = (t + l) * bands;
      const from = l * bands;
      for (let b = 0; b < bands; b++) sum += pattern[from + b]! * ratio[at + b]!;
    }
    gain[t]! *= sum / weight;
  }
}

function updatePattern(
  pattern: Float64Array,
  gain: Float64Array,
  ratio: Float64Array,
  looks: number,
  bands: number,
): void {
  const taps = pattern.length / bands;
  const sum = new Float64Array(bands);
  for (let l = 0; l < taps; l++) {
    sum.fill(0);
    let weight = tiny;
    for (let t = 0; t + l < looks; t++) {
      const g = gain[t]!;
      if (g === 0) continue;
      weight += g;
      const at = (t + l) * bands;
      for (let b = 0; b < bands; b++) sum[b]! += g * ratio[at + b]!;
    }
    for (let b = 0; b < bands; b++) pattern[l * bands + b]! *= sum[b]! / weight;
  }
}
