import { resolveParams, type AnyValues } from "../params";
import { plainContext, type ProcessorType } from "../processor";

/** One channel through a processor that begins from rest; values that are not given stand at their defaults. For processors without latency. */
export function processedOnce(
  type: ProcessorType,
  values: AnyValues,
  x: Float32Array,
  sampleRate: number,
): Float32Array {
  const processor = type.create();
  processor.prepare({ sampleRate, channels: 1, maxFrames: x.length });
  processor.set(resolveParams(type.params, values));
  processor.reset();
  const y = new Float32Array(x.length);
  processor.process([x], [y], x.length, plainContext());
  return y;
}
