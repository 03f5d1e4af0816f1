import * as libsamplerate from "@alexanderolsen/libsamplerate-js";
import { joined } from "../../core/signal/joined";

// Where the package is loaded as an ES module, all of it stands behind its default.
const { ConverterType, create } =
  (libsamplerate as { default?: typeof libsamplerate }).default ?? libsamplerate;

/** Frames that are converted at once: the package takes a million at most, and of those in parts of its own. */
const atOnce = 1 << 16;

/** Frames of a signal of so many at another rate. */
export const framesAt = (frames: number, from: number, to: number): number =>
  Math.round((frames * to) / from);

/** One channel on its way to another sample rate by libsamplerate's best sinc converter, a piece after another. Long work: see convert.ts. */
export class RateConverter {
  private taken = 0;
  private given = 0;
  private constructor(
    private readonly converter: Awaited<ReturnType<typeof create>>,
    private readonly from: number,
    private readonly to: number,
  ) {}
  static async open(from: number, to: number): Promise<RateConverter> {
    const converterType = ConverterType.SRC_SINC_BEST_QUALITY;
    return new RateConverter(await create(1, from, to, { converterType }), from, to);
  }

  /** What comes out of the next frames; the converter holds some of them back. */
  next(x: Float32Array): Float32Array {
    this.taken += x.length;
    return this.through(x, Infinity);
  }
  /** What it has held back: with it all that was taken has as many frames as `framesAt` says. */
  end(): Float32Array {
    const left = framesAt(this.taken, this.from, this.to) - this.given;
    const parts: Float32Array[] = [];
    for (let got = 0; got < left; got += parts.at(-1)!.length)
      parts.push(this.through(new Float32Array(Math.ceil(this.from / 10)), left - got));
    return joined(parts);
  }
  private through(x: Float32Array, most: number): Float32Array {
    const parts: Float32Array[] = [];
    for (let at = 0; at < x.length; at += atOnce)
      parts.push(this.converter.full(x.subarray(at, at + atOnce)));
    const all = joined(parts);
    const y = all.subarray(0, Math.min(all.length, most));
    this.given += y.length;
    return y;
  }
  close(): void {
    this.converter.destroy();
  }
}

/** Converts one channel to another sample rate. Long work: see convert.ts. */
export async function resampleOne(x: Float32Array, from: number, to: number): Promise<Float32Array> {
  const converter = await RateConverter.open(from, to);
  try {
    return joined([converter.next(x), converter.end()]);
  } finally {
    converter.close();
  }
}
