import { hann, RealFft } from "../signal/fft";
import type { Edit } from "../song/song";
import { stepsOf, type Seam } from "./joints";

/** The recorded mics of the kit, as far as a joint must know them. */
export interface Material {
  /** Channels of the mics over frames [from, to) of the recording; silence outside. */
  load(from: number, to: number): Promise<readonly Float32Array[]>;
}

/** Frames [from, to) of the recording out of channels that begin at its frame `origin`; silence where they have none. */
export const stretchOf = (
  channels: readonly Float32Array[],
  origin: number,
  from: number,
  to: number,
): Float32Array[] =>
  channels.map((x) => {
    const y = new Float32Array(to - from);
    const start = Math.max(origin, from);
    if (to > start) y.set(x.subarray(start - origin, to - origin), start - from);
    return y;
  });

/** Recordings in memory, by channel from the song's first frame on. */
export const memoryMaterial = (channels: readonly Float32Array[]): Material => ({
  load: async (from, to) => stretchOf(channels, 0, from, to),
});

/** Blocks in which the two sides are compared, s. */
const blockSeconds = 0.001;
/** Lengths of crossfades that are tried, ms. */
const fades = [2, 4, 8, 14, 24, 40] as const;
/** dB by which a joint may be worse for lying a second later, and for being twice as short: both keep the tail smooth. */
const latePerSecond = 12;
const perDoubling = 0.7;
/** Window of the spectra on both sides of a joint, frames at 48 kHz, and the edges of their bands in Hz. */
const spectrumSize = 512;
const bandEdges = [60, 200, 500, 1200, 3000, 7000, 16000] as const;

/** Share of the whole energy under which a band says nothing: 40 dB. */
const unheard = 1e-4;

/** Energies of both sides and their product in blocks, summed over the mics, each by its own loudness. */
interface Blocks {
  readonly count: number;
  readonly before: Float64Array;
  readonly after: Float64Array;
  readonly both: Float64Array;
}

function compare(
  channels: readonly Float32Array[],
  weights: readonly number[],
  seam: Seam,
  origin: number,
  size: number,
): Blocks {
  const count = Math.floor((seam.to - seam.from) / size);
  const sums = {
    count,
    before: new Float64Array(count),
    after: new Float64Array(count),
    both: new Float64Array(count),
  };
  channels.forEach((x, c) => {
    const a0 = seam.from - seam.before - origin;
    const b0 = seam.from - seam.after - origin;
    for (let k = 0; k < count; k++) {
      let aa = 0;
      let bb = 0;
      let ab = 0;
      for (let i = k * size; i < (k + 1) * size; i++) {
        const a = x[a0 + i] ?? 0;
        const b = x[b0 + i] ?? 0;
        aa += a * a;
        bb += b * b;
        ab += a * b;
      }
      sums.before[k]! += weights[c]! * aa;
      sums.after[k]! += weights[c]! * bb;
      sums.both[k]! += weights[c]! * ab;
    }
  });
  return sums;
}

interface Choice {
  readonly start: number; // block
  readonly length: number; // blocks
  readonly likeness: number;
}

/** Places that are looked at closer, and how far they lie apart, s. */
const placesTried = 5;
const placesApart = 0.008;

/**
 * Places and lengths at which what differs between both sides is least audible: quiet and alike, late rather than early.
 * The best first.
 */
function bestPlaces({ count, before, after, both }: Blocks, size: number, sampleRate: number): Choice[] {
  const running = (x: Float64Array) => {
    const sums = new Float64Array(count + 1);
    for (let k = 0; k < count; k++) sums[k + 1] = sums[k]! + x[k]!;
    return sums;
  };
  const [sa, sb, sc] = [running(before), running(after), running(both)];
  const loudest = Math.max(1e-20, ...before, ...after);
  const perBlock = size / sampleRate;
  const all: (Choice & { cost: number })[] = [];
  for (const ms of fades) {
    const length = Math.max(1, Math.round(ms / 1000 / perBlock));
    if (length > count) break;
    for (let start = 0; start + length <= count; start++) {
      const a = sa[start + length]! - sa[start]!;
      const b = sb[start + length]! - sb[start]!;
      const c = sc[start + length]! - sc[start]!;
      const likeness = Math.min(1, Math.max(0, c / Math.sqrt(a * b + 1e-30)));
      const energy = (a + b) / (2 * length);
      const level = 10 * Math.log10(energy / loudest + 1e-6);
      const step = Math.abs(10 * Math.log10((a + 1e-20) / (b + 1e-20)));
      const cost =
        level +
        10 * Math.log10(1.03 - likeness) +
        0.3 * step +
        latePerSecond * (count - start - length) * perBlock -
        perDoubling * Math.log2(ms);
      all.push({ start, length, likeness, cost });
    }
  }
  all.sort((a, b) => a.cost - b.cost);
  const chosen: Choice[] = [];
  for (const one of all) {
    if (chosen.length === placesTried) break;
    if (chosen.every((c) => Math.abs(c.start - one.start) * perBlock >= placesApart)) chosen.push(one);
  }
  return chosen;
}

/** Energy by band of windows of all mics that end, or begin, at a frame. */
function spectrumAt(
  channels: readonly Float32Array[],
  weights: readonly number[],
  at: number,
  sampleRate: number,
): number[] {
  const fft = RealFft.of(spectrumSize);
  const window = hann(spectrumSize);
  const out = fft.spectrum();
  const energies: number[] = new Array<number>(bandEdges.length - 1).fill(1e-12);
  channels.forEach((x, c) => {
    fft.forward(x, at, spectrumSize, out, window);
    bandEdges.slice(1).forEach((high, b) => {
      const from = Math.max(1, Math.round((bandEdges[b]! * spectrumSize) / sampleRate));
      const to = Math.max(from + 1, Math.round((high * spectrumSize) / sampleRate));
      for (let k = from; k < Math.min(to, out.re.length); k++)
        energies[b]! += weights[c]! * (out.re[k]! ** 2 + out.im[k]! ** 2);
    });
  });
  // What lies far under the rest is not heard, and no jump.
  const floor = unheard * energies.reduce((sum, e) => sum + e, 0);
  return energies.map((e) => 10 * Math.log10(e + floor));
}

const distance = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, x, i) => sum + Math.abs(x - b[i]!), 0) / a.length;

/** dB by which the spectrum jumps over a joint beyond what the material does over the same time by itself, on either side. */
function jumpOver(
  channels: readonly Float32Array[],
  weights: readonly number[],
  { before, after }: Seam,
  at: number,
  fade: number,
  origin: number,
  sampleRate: number,
): number {
  const spectrum = (frame: number, shift: number) =>
    spectrumAt(channels, weights, frame - shift - origin, sampleRate);
  const early = at - fade - spectrumSize;
  const [left, right] = [spectrum(early, before), spectrum(at, after)];
  const own = Math.max(distance(left, spectrum(at, before)), distance(spectrum(early, after), right));
  return distance(left, right) - own;
}

/** Joints of one seam with the material under it. */
async function joinSeam(
  seam: Seam,
  material: Material,
  weights: () => readonly number[],
  sampleRate: number,
): Promise<Edit[]> {
  const size = Math.max(1, Math.round(blockSeconds * sampleRate));
  const steps = stepsOf(seam, sampleRate);
  const margin = spectrumSize + size;
  const shifts = [seam.before, seam.after];
  const origin = seam.from - Math.max(...shifts) - margin;
  const channels = await material.load(origin, seam.to - Math.min(...shifts) + margin);
  const scale = channels.map((_, c) => weights()[c] ?? 1);
  return steps.map((step): Edit => {
    const blocks = compare(channels, scale, step, origin, size);
    // Where there is no room to choose in, the crossfade takes all there is.
    let best: Edit = {
      at: step.to,
      shift: step.after,
      fade: Math.max(1, step.to - step.from),
      likeness: 0,
      jumpDb: null,
    };
    // The first that does not stand out from the material is good; otherwise the one that stands out least.
    for (const { start, length, likeness } of bestPlaces(blocks, size, sampleRate)) {
      const at = step.from + (start + length) * size;
      const fade = length * size;
      const jumpDb = jumpOver(channels, scale, step, at, fade, origin, sampleRate);
      if (best.jumpDb === null || jumpDb < best.jumpDb)
        best = { at, shift: step.after, fade, likeness, jumpDb };
      if (jumpDb <= 0) break;
    }
    return best;
  });
}

/** Weights that make every channel count alike: one over the energy it has, from what was loaded so far. */
class Loudness {
  private sums: number[] = [];
  take(channels: readonly Float32Array[]): void {
    channels.forEach((x, c) => {
      let sum = 0;
      for (let i = 0; i < x.length; i += 4) sum += x[i]! * x[i]!;
      this.sums[c] = (this.sums[c] ?? 1e-9) + sum;
    });
  }
  readonly weights = (): number[] => {
    const total = this.sums.reduce((sum, s) => sum + s, 0);
    return this.sums.map((s) => total / (this.sums.length * s));
  };
}

/**
 * Cuts of all mics at the same frames, each where the material allows it best: the crossfade's place and length are
 * chosen by how alike and how quiet both sides are there, and the jump of the spectrum over it is measured.
 * Shape   seams ascending; edits ascending.
 * Source  choosing splices by likeness: Roucos and Wilgus, ICASSP 1985 (synchronised overlap-add); the spectral jump is
 *         our own measure.
 */
export async function joinSeams(
  seams: readonly Seam[],
  material: Material,
  sampleRate: number,
  progress: (share: number) => void = () => {},
): Promise<Edit[]> {
  const loudness = new Loudness();
  const heard: Material = {
    load: async (from, to) => {
      const channels = await material.load(from, to);
      loudness.take(channels);
      return channels;
    },
  };
  const edits: Edit[] = [];
  for (const [i, seam] of seams.entries()) {
    edits.push(...(await joinSeam(seam, heard, loudness.weights, sampleRate)));
    progress((i + 1) / seams.length);
  }
  return edits;
}
