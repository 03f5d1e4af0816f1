/** A signal in memory that threads share, so that handing it to one copies nothing. */
export function shared(x: Float32Array): Float32Array {
  if (x.buffer instanceof SharedArrayBuffer) return x;
  const y = new Float32Array(new SharedArrayBuffer(x.byteLength));
  y.set(x);
  return y;
}
