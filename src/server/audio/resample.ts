import * as libsamplerate from "@alexanderolsen/libsamplerate-js";

// Where the package is loaded as an ES module, all of it stands behind its default.
const { ConverterType, create } =
  (libsamplerate as { default?: typeof libsamplerate }).default ?? libsamplerate;

/** Converts one channel to another sample rate with libsamplerate's best sinc converter. Long work: see convert.ts. */
export async function resampleOne(x: Float32Array, from: number, to: number): Promise<Float32Array> {
  const y = new Float32Array(Math.round((x.length * to) / from));
  const converter = await create(1, from, to, { converterType: ConverterType.SRC_SINC_BEST_QUALITY });
  try {
    const converted = converter.simple(x);
    y.set(converted.subarray(0, Math.min(y.length, converted.length)));
    return y;
  } finally {
    converter.destroy();
  }
}
