import { bandPower, RealFft } from "../signal/fft";
import type { Samples } from "../signal/samples";

/** How a signal is looked at: windows of `size` frames, one every `hop`, and the bands that are told. */
export interface BandLayout {
  readonly sampleRate: number;
  readonly size: number;
  /** Frames from one look to the next; need not be whole. */
  readonly hop: number;
  /** First bin of each band, and one more that ends the last; ascending. */
  readonly edges: readonly number[];
}

/** Energies by band: [look * bands + band]. */
export interface BandLooks {
  readonly energies: Float64Array;
  readonly looks: number;
  readonly bands: number;
}

/** Energy of all channels in bands, under a raised cosine. Looks have their middles at 0, hop, 2 hop … until the end is behind one. */
export function bandLooks(channels: readonly Samples[], { size, hop, edges }: BandLayout): BandLooks {
  const looks = Math.ceil((channels[0]?.length ?? 0) / hop) + 1;
  const bands = edges.length - 1;
  const energies = new Float64Array(looks * bands);
  const window = Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size) ** 2);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  for (const x of channels)
    for (let t = 0; t < looks; t++) {
      fft.forward(x, Math.round(t * hop) - size / 2, size, spectrum, window);
      for (let b = 0; b < bands; b++)
        energies[t * bands + b]! += bandPower(spectrum, edges[b]!, edges[b + 1]!);
    }
  return { energies, looks, bands };
}
