/** A signal of any length, read a stretch at a time: it need not lie in memory. A Float32Array is one. */
export interface Samples {
  /** Frames. */
  readonly length: number;
  /** Frames [from, to) as far as there are any, not to be written to. Shape  0 <= from <= to; `to` left out: to the end. */
  subarray(from: number, to?: number): Float32Array;
}

/** Frames read at once by what goes through a whole signal. */
export const pieceFrames = 1 << 16;

/** Frames [from, from + count), whole numbers; silence outside of the signal. */
export function stretchOf(x: Samples, from: number, count: number): Float32Array {
  const first = Math.min(x.length, Math.max(0, from));
  const found = x.subarray(first, Math.max(first, Math.min(x.length, from + count)));
  if (found.length === count) return found;
  const whole = new Float32Array(count);
  if (found.length > 0) whole.set(found, Math.max(0, -from));
  return whole;
}

/**
 * Frames [from, to) of a signal one piece after another, as far as there are any, with the frame at which each begins; one piece where
 * the signal lies in memory.
 */
export function* piecesOf(
  x: Samples,
  from = 0,
  to = x.length,
): Generator<{ readonly at: number; readonly piece: Float32Array }> {
  const end = Math.min(x.length, Math.ceil(to));
  const step = x instanceof Float32Array ? Infinity : pieceFrames;
  for (let at = Math.max(0, Math.ceil(from)); at < end; at += step)
    yield { at, piece: x.subarray(at, Math.min(end, at + step)) };
}

/** Channels of one length a piece after another, those of one stretch together. */
export function* piecesTogether(channels: readonly Samples[]): Generator<readonly Float32Array[]> {
  const length = channels[0]?.length ?? 0;
  for (let at = 0; at < length; at += pieceFrames) {
    const end = Math.min(length, at + pieceFrames);
    yield channels.map((x) => x.subarray(at, end));
  }
}

/** The signal from a frame on. */
export function behind(x: Samples, start: number): Samples {
  if (x instanceof Float32Array) return x.subarray(start);
  const length = Math.max(0, x.length - start);
  return {
    length,
    subarray: (from, to = length) => x.subarray(start + from, start + Math.max(from, Math.min(length, to))),
  };
}

/** The signal for readers that go through it in small steps: pieces are read ahead where it does not lie in memory. */
export const readAhead = (x: Samples): Samples => (x instanceof Float32Array ? x : new Ahead(x));

class Ahead implements Samples {
  readonly length: number;
  private at = 0;
  private piece: Float32Array = new Float32Array(0);
  constructor(private readonly x: Samples) {
    this.length = x.length;
  }
  subarray(from: number, to = this.length): Float32Array {
    const end = Math.min(this.length, to);
    if (end - from > pieceFrames) return this.x.subarray(from, end);
    if (from < this.at || end > this.at + this.piece.length) {
      this.at = from;
      this.piece = this.x.subarray(from, Math.min(this.length, from + pieceFrames));
    }
    return this.piece.subarray(from - this.at, Math.max(from, end) - this.at);
  }
}
