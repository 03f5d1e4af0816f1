/** Silence in memory that threads share, so that handing it to one copies nothing. */
export const sharedFrames = (frames: number): Float32Array =>
  new Float32Array(new SharedArrayBuffer(4 * frames));

/** A signal in memory that threads share. */
export function shared(x: Float32Array): Float32Array {
  if (x.buffer instanceof SharedArrayBuffer) return x;
  const y = sharedFrames(x.length);
  y.set(x);
  return y;
}
