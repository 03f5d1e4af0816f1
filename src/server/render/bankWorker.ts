import { parentPort, workerData } from "node:worker_threads";
import { responses } from "../../core/engine/responses";
import type { PartitionedResponse } from "../../core/signal/partitionedResponse";
import { WindowStage } from "../../core/engine/windowStage";
import { RenderWindow, WindowBank } from "../../core/engine/renderWindow";
import type { Song } from "../../core/song/song";

/** What a thread is given: the song, its share of the mics and the windows' memory. */
export interface BankWork {
  readonly song: Song;
  readonly groups: readonly number[][];
  /** It runs the stage before the chains, of all mics. */
  readonly stage: boolean;
  readonly memories: readonly SharedArrayBuffer[];
  readonly responses: readonly [mic: string, response: PartitionedResponse][];
}
/** One window to run, and the answer. */
export interface BankRun {
  readonly window: number;
  readonly from: number;
}

// Entry of a render thread.
const { song, groups, stage, memories, responses: given } = workerData as BankWork;
for (const [mic, response] of given) responses.put(mic, response);
const windows = memories.map((m) => new RenderWindow(song, m));
const works = stage ? new WindowStage(song) : new WindowBank(song, groups);
parentPort!.on("message", ({ window, from }: BankRun) => {
  works.run(windows[window]!, from);
  parentPort!.postMessage({ window, from });
});
