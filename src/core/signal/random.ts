/** Random numbers 0..1 repeatable. Source  Marsaglia's xorshift32, J. Stat. Software 8(14), 2003. */
export function randomSource(seed: number): () => number {
  let s = seed >>> 0 || 1;
  return () => {
    s ^= s << 13;
    s >>>= 0;
    s ^= s >>> 17;
    s ^= s << 5;
    s >>>= 0;
    return s / 4294967296;
  };
}
