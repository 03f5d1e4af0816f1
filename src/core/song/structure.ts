import type { ProcessorState, Song } from "./song";

const sameList = <T>(a: readonly T[], b: readonly T[], same: (x: T, y: T) => boolean): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => x === b[i] || same(x, b[i]!)));

const sameChain = (a: readonly ProcessorState[], b: readonly ProcessorState[]): boolean =>
  sameList(a, b, (x, y) => x.id === y.id);

/**
 * True when one engine and one stream can serve both songs: the same files, mics, buses and processors in the same
 * order, whatever their values. Songs of the same structure have the same latency.
 */
export const sameStructure = (a: Song, b: Song): boolean =>
  a === b ||
  (a.sampleRate === b.sampleRate &&
    a.frames === b.frames &&
    sameList(
      a.mics,
      b.mics,
      (x, y) =>
        x.id === y.id &&
        x.audio === y.audio &&
        x.channels === y.channels &&
        x.start === y.start &&
        x.key === y.key &&
        sameChain(x.chain, y.chain),
    ) &&
    sameList(
      a.buses,
      b.buses,
      (x, y) => x.id === y.id && x.output === y.output && sameChain(x.chain, y.chain),
    ));
