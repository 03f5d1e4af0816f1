/** What a transform by decimation in time needs. */
export interface FftTables {
  /** cos and -sin of 2 pi k / size for k < size / 2. */
  readonly cos: Float64Array;
  readonly minusSin: Float64Array;
  /** Places of the frames with the bits of their numbers reversed. */
  readonly reversed: Uint32Array;
}

/** Tables of a kernel's transform. Shape  size: a power of two. Source  Cooley and Tukey, Math. Comp. 19, 1965. */
export function fftTables(size: number): FftTables {
  const angle = (k: number) => (2 * Math.PI * k) / size;
  const bits = Math.log2(size);
  const reversed = Uint32Array.from({ length: size }, (_, i) => {
    let place = 0;
    for (let b = 0; b < bits; b++) if (i & (1 << b)) place |= 1 << (bits - 1 - b);
    return place;
  });
  return {
    cos: Float64Array.from({ length: size / 2 }, (_, k) => Math.cos(angle(k))),
    minusSin: Float64Array.from({ length: size / 2 }, (_, k) => -Math.sin(angle(k))),
    reversed,
  };
}
