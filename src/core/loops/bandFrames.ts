import { powerOfTwo, RealFft } from "../signal/fft";

/** Bands of looks at a signal: narrow as bins in the low end, then so many an octave. */
export interface BandLayout {
  readonly size: number;
  readonly hop: number;
  /** First bin of each band, and one more that ends the last. */
  readonly edges: readonly number[];
  readonly window: Float64Array;
  readonly sampleRate: number;
}

/** Bands an octave above the low end (common practice, no source). */
const bandsPerOctave = 8;

/** Shape  lookSeconds: what one look takes in, hopSeconds: from one to the next. */
export function bandLayout(sampleRate: number, lookSeconds: number, hopSeconds: number): BandLayout {
  const size = powerOfTwo(Math.round(lookSeconds * sampleRate));
  const hop = Math.max(1, Math.round(hopSeconds * sampleRate));
  const edges: number[] = [1];
  while (edges.at(-1)! < size / 2) {
    const last = edges.at(-1)!;
    edges.push(Math.min(size / 2 + 1, Math.max(last + 1, Math.round(last * 2 ** (1 / bandsPerOctave)))));
    if (edges.at(-1) === size / 2) edges[edges.length - 1] = size / 2 + 1;
  }
  const window = Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size) ** 2);
  return { size, hop, edges, window, sampleRate };
}

/** Middle of a band, Hz. */
export const bandCentre = ({ edges, size, sampleRate }: BandLayout, band: number): number =>
  (sampleRate * Math.sqrt(Math.max(0.5, edges[band]!) * Math.max(0.5, edges[band + 1]! - 0.5))) / size;

/** Root of the energy by band, of looks whose middles lie at 0, hop, 2 hop … Shape  result [look * bands + band]. */
export function bandFrames(
  channels: readonly Float32Array[],
  layout: BandLayout,
): { values: Float64Array; looks: number; bands: number } {
  const { size, hop, edges, window } = layout;
  const frames = channels[0]!.length;
  const looks = Math.ceil(frames / hop) + 1;
  const bands = edges.length - 1;
  const values = new Float64Array(looks * bands);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  for (const x of channels)
    for (let t = 0; t < looks; t++) {
      fft.forward(x, t * hop - size / 2, size, spectrum, window);
      for (let b = 0; b < bands; b++) {
        let sum = 0;
        for (let i = edges[b]!; i < edges[b + 1]!; i++) sum += spectrum.re[i]! ** 2 + spectrum.im[i]! ** 2;
        values[t * bands + b]! += sum;
      }
    }
  for (let i = 0; i < values.length; i++) values[i] = Math.sqrt(values[i]!);
  return { values, looks, bands };
}
