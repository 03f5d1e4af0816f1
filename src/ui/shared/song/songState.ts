import type { StoreApi } from "zustand";
import type { OpenSong, Task } from "../../../contract";
import { noFacts, type Facts } from "../../../core/facts/facts";
import type { Operation } from "../../../core/song/operations";
import type { Piece, Song, Step } from "../../../core/song/song";

/** The open song as the page has it. */
export interface SongValues {
  readonly id: string;
  readonly song: Song | null;
  /** As the song calls its drums now; `measured` as the server stored them. */
  readonly facts: Facts;
  readonly measured: Facts;
  readonly analysed: boolean;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly step: Step;
  /** The drum on the bench; null for the whole kit. */
  readonly piece: Piece | null;
  /** Mic on the bench, of that drum. */
  readonly mic: string | null;
  /** Bus on the bench, where it is not a mic. */
  readonly bus: string | null;
  /** Processor on the bench, the one that Compare means by "this processor". */
  readonly processor: string | null;
  /** Number of changes, undone and redone ones too, that the server does not have yet. */
  readonly unsaved: number;
  readonly trouble: string | null;
  readonly stale: boolean;
  readonly task: Task | null;
}

/** What is done with it. */
export interface SongActions {
  open(id: string): Promise<void>;
  /** Takes one change: heard at once, stored, undoable. */
  change(label: string, operation: Operation): void;
  /** A gesture under way: heard and seen, but stored only by the `change` that ends it. */
  preview(operation: Operation): void;
  history(direction: "undo" | "redo"): Promise<void>;
  /** A change that the server makes of the song at this version, in line with those that were made here; null: none. */
  onServer(work: (id: string, version: number) => Promise<OpenSong | null>): Promise<void>;
  reload(): Promise<void>;
  chooseStep(step: Step): void;
  choosePiece(piece: Piece | null): void;
  chooseMic(mic: string): void;
  chooseBus(bus: string | null): void;
  chooseProcessor(processor: string | null): void;
  tell(trouble: string | null): void;
  run(kind: Task["kind"], options: object): Promise<void>;
  stopTask(): Promise<void>;
}

export type SongState = SongValues & SongActions;
export type SetSong = StoreApi<SongState>["setState"];
export type GetSong = StoreApi<SongState>["getState"];

export const noSong: SongValues = {
  id: "",
  song: null,
  facts: noFacts,
  measured: noFacts,
  analysed: false,
  undo: null,
  redo: null,
  step: "gather",
  piece: null,
  mic: null,
  bus: null,
  processor: null,
  unsaved: 0,
  trouble: null,
  stale: false,
  task: null,
};
