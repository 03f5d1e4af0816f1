import type { Song } from "../song/song";
import { groupMics } from "./micBank";
import { WindowBank, type RenderWindow } from "./renderWindow";
import { WindowStage } from "./windowStage";

/** Runs the chains of all mics over a window, and the stage before them, on this thread or on several. */
export interface BankRunner {
  /** Shared memory for windows, or plain memory when one thread does it all. */
  allocate(bytes: number): ArrayBufferLike;
  /** Says which windows will be used, before the first run. */
  open(windows: readonly RenderWindow[], memories: readonly ArrayBufferLike[]): void;
  /** Windows may be asked for before the one before them is done; they are worked on in that order. */
  run(window: number, from: number): Promise<void>;
  close(): void;
}

/** Everything on this thread. */
export function localRunner(song: Song): BankRunner {
  const stage = new WindowStage(song);
  const bank = new WindowBank(song, groupMics(song));
  let opened: readonly RenderWindow[] = [];
  return {
    allocate: (bytes) => new ArrayBuffer(bytes),
    open: (windows) => {
      opened = windows;
    },
    run: async (window, from) => {
      stage.run(opened[window]!, from);
      bank.run(opened[window]!, from);
    },
    close: () => {},
  };
}
