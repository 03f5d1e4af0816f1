import type { Hit } from "../song/song";

/** Instants of strokes, ascending, s. */
export const timesOf = (hits: readonly Hit[]): Float64Array => Float64Array.from(hits, (h) => h.time).sort();
