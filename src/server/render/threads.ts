import { availableParallelism } from "node:os";
import { groupMics } from "../../core/engine/micBank";
import { localRunner, type BankRunner } from "../../core/engine/bankRunner";
import { WindowStage } from "../../core/engine/windowStage";
import { responses } from "../../core/engine/responses";
import type { Song } from "../../core/song/song";
import { bundledFile, Thread } from "../thread";
import type { BankRun, BankWork } from "./bankWorker";

/** Groups dealt out so that every thread gets about as many mics. */
function deal(groups: readonly number[][], threads: number): number[][][] {
  const hands = Array.from({ length: threads }, () => [] as number[][]);
  const mics = (hand: number[][]) => hand.reduce((n, g) => n + g.length, 0);
  for (const group of [...groups].sort((a, b) => b.length - a.length))
    hands.reduce((least, h) => (mics(h) < mics(least) ? h : least)).push(group);
  return hands.filter((h) => h.length > 0);
}

/** Lanes woven together where threads share the work: fewer than where one does it all, so that there is something to share. */
const lanesOfThread = 8;

/**
 * Runs the mics of a song on several threads; the samples are the same for any number. One thread, or a small song:
 * everything stays where it is called.
 */
export function threadedRunner(song: Song, threads = availableParallelism()): BankRunner {
  const file = bundledFile("bankWorker.mjs");
  const groups = groupMics(song, lanesOfThread);
  if (threads < 2 || groups.length < 2 || !file) return localRunner(song);
  let running: Thread<BankRun, BankRun>[] = [];
  // Cancelling hears all mics and goes window by window: it has a thread of its own, ahead of the mics.
  let stage: Thread<BankRun, BankRun> | null = null;
  let staged = Promise.resolve();
  let done = Promise.resolve();
  return {
    allocate: (bytes) => new SharedArrayBuffer(bytes),
    open: (_, memories) => {
      const shared = memories as readonly SharedArrayBuffer[];
      const start = (work: Pick<BankWork, "groups" | "stage">) =>
        new Thread<BankRun, BankRun>(file, {
          ...work,
          song,
          memories: shared,
          responses: responses.entries(),
        } satisfies BankWork);
      running = deal(groups, threads).map((hand) => start({ groups: hand, stage: false }));
      if (!new WindowStage(song).idle) stage = start({ groups: [], stage: true });
    },
    // Windows are asked for ahead of each other: each waits for the one before it at the stage, and then at the mics.
    run: (window, from) => {
      staged = staged.then(async () => void (await stage?.ask({ window, from })));
      const ready = staged;
      ready.catch(() => {}); // told by `done`, also when that has failed before
      done = done.then(async () => {
        await ready;
        await Promise.all(running.map((t) => t.ask({ window, from })));
      });
      return done;
    },
    close: () => [...running, ...(stage ? [stage] : [])].forEach((t) => t.close()),
  };
}
