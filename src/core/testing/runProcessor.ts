import { resolveParams, type AnyValues } from "../params";
import { plainContext, type Processor, type ProcessorType } from "../processor";

// For tests only.
export const rate = 48000;
/** Frames of one call. */
const block = 48;

/** A processor of one channel at 48 kHz, as it is after a reset. */
export function make(type: ProcessorType, values: AnyValues): Processor {
  const p = type.create();
  p.prepare({ sampleRate: rate, channels: 1, maxFrames: block });
  p.set(resolveParams(type.params, values));
  p.reset();
  return p;
}

/** What comes out of a processor of one channel; a channel, or two where it widens. `hits` in frames. */
export function channelsThrough(
  p: Processor,
  x: Float32Array,
  channels: number,
  hits: Float64Array = new Float64Array(0),
): Float32Array[] {
  const out = Array.from({ length: channels }, () => new Float32Array(x.length));
  for (let i = 0; i < x.length; i += block) {
    const n = Math.min(block, x.length - i);
    p.process(
      [x.subarray(i, i + n)],
      out.map((o) => o.subarray(i, i + n)),
      n,
      { ...plainContext(i), hits },
    );
  }
  return out;
}
export const through = (
  p: Processor,
  x: Float32Array,
  hits: Float64Array = new Float64Array(0),
): Float32Array => channelsThrough(p, x, 1, hits)[0]!;

/** As `through`, without the frames by which the processor is late. */
export function inTime(p: Processor, x: Float32Array): Float32Array {
  const longer = new Float32Array(x.length + p.latency);
  longer.set(x);
  return through(p, longer).subarray(p.latency);
}

/** A new processor over a signal, all channels. */
export const run = (
  type: ProcessorType,
  values: AnyValues,
  x: Float32Array,
  hits?: Float64Array,
): Float32Array[] => channelsThrough(make(type, values), x, type.widens ? 2 : 1, hits);

/** A new processor over a pair. */
export function pairThrough(
  type: ProcessorType,
  values: AnyValues,
  left: Float32Array,
  right: Float32Array,
): [Float32Array, Float32Array] {
  const p = type.create();
  p.prepare({ sampleRate: rate, channels: 2, maxFrames: left.length });
  p.set(resolveParams(type.params, values));
  p.reset();
  const out: [Float32Array, Float32Array] = [new Float32Array(left.length), new Float32Array(left.length)];
  p.process([left, right], out, left.length, plainContext());
  return out;
}
