import type { ProcessorState, Send, Song } from "./song";

const sameList = <T>(a: readonly T[], b: readonly T[], same: (x: T, y: T) => boolean): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => x === b[i] || same(x, b[i]!)));

const sameChain = (a: readonly ProcessorState[], b: readonly ProcessorState[]): boolean =>
  sameList(a, b, (x, y) => x.id === y.id && x.type === y.type && (x.key ?? null) === (y.key ?? null));

const sameSends = (a: readonly Send[], b: readonly Send[]): boolean =>
  sameList(a, b, (x, y) => x.bus === y.bus && x.from === y.from && x.followsPan === y.followsPan);

/** True when one stream of audio can serve both songs: the same files at the same places. */
export const sameSources = (a: Song, b: Song): boolean =>
  a === b ||
  (a.sampleRate === b.sampleRate &&
    a.frames === b.frames &&
    sameList(
      a.mics,
      b.mics,
      (x, y) => x.id === y.id && x.audio === y.audio && x.channels === y.channels && x.start === y.start,
    ));

/**
 * True when one engine can serve both songs: the same sources, mics, buses, processors and ways between them, whatever their
 * values. Songs of the same structure have the same latency.
 */
export const sameStructure = (a: Song, b: Song): boolean =>
  a === b ||
  (sameSources(a, b) &&
    sameList(
      a.mics,
      b.mics,
      (x, y) => x.output === y.output && sameChain(x.chain, y.chain) && sameSends(x.sends, y.sends),
    ) &&
    sameList(
      a.buses,
      b.buses,
      (x, y) =>
        x.id === y.id &&
        x.output === y.output &&
        x.piece === y.piece &&
        sameChain(x.chain, y.chain) &&
        sameSends(x.sends, y.sends),
    ));
