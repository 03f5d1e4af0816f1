import * as libsamplerate from "@alexanderolsen/libsamplerate-js";

// Where the package is loaded as an ES module, all of it stands behind its default.
const { ConverterType, create } =
  (libsamplerate as { default?: typeof libsamplerate }).default ?? libsamplerate;

/** Converts one or two channels to another sample rate with libsamplerate's best sinc converter. */
export async function resample(
  channels: readonly Float32Array[],
  from: number,
  to: number,
): Promise<Float32Array[]> {
  if (from === to) return [...channels];
  const wanted = Math.round((channels[0]!.length * to) / from);
  const out: Float32Array[] = [];
  for (const x of channels) {
    const converter = await create(1, from, to, { converterType: ConverterType.SRC_SINC_BEST_QUALITY });
    try {
      const y = new Float32Array(wanted);
      const converted = converter.simple(x);
      y.set(converted.subarray(0, Math.min(wanted, converted.length)));
      out.push(y);
    } finally {
      converter.destroy();
    }
  }
  return out;
}
