// What server and interface say to each other, once: both import it, and it imports the core only.
import type { MonoBand } from "../core/align/monoCheck";
import type { BesideRecord } from "../core/blend/besideRecord";
import type { PathEffect } from "../core/blend/pathEffect";
import type { Verdict } from "../core/deliver/checks";
import type { MaskingMeasured } from "../core/masking/measureMasking";
import type { NullResult } from "../core/blend/nullTest";
import type { WaysAnswer } from "../core/clean/judgeWays";
import type { CymbalPlace } from "../core/clean/stereoPosition";
import type { Treatment } from "../core/facts/treatment";
import type { Facts } from "../core/facts/facts";
import type { Piece, ProcessorState, Song } from "../core/song/song";

/** A song as the interface gets it. */
export interface OpenSong {
  readonly id: string;
  readonly song: Song;
  readonly version: number;
  readonly facts: Facts | null;
  /** What undo and redo would do; null when there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
}

/** A song in the list of all; a time goes over the wire as text. */
export interface SongEntry<Time = string> {
  readonly id: string;
  readonly title: string;
  readonly mics: number;
  readonly seconds: number;
  /** Size of its files as they came in. */
  readonly bytes: number;
  /** When it was changed last, or deleted. */
  readonly updatedAt: Time;
}

/** Work that the server does apart, with what it is called while it runs. */
export const taskNames = {
  analyse: "Analysing the kit",
  export: "Rendering",
  clock: "Correcting a recorder's clock",
  tighten: "Planning the cuts with the recording",
} as const;
export type TaskKind = keyof typeof taskNames;
export const taskKinds = Object.keys(taskNames) as TaskKind[];
export const taskStates = ["waiting", "running", "done", "failed", "cancelled"] as const;
export type TaskState = (typeof taskStates)[number];

export interface Task {
  readonly id: string;
  readonly kind: TaskKind;
  readonly state: TaskState;
  /** 0..1. */
  readonly progress: number;
  /** What it does now, in words; may be empty. */
  readonly doing: string;
  readonly message: string;
  readonly result: object | null;
}

/** One state the song was in. */
export interface PastState {
  /** Number of changes made until then. */
  readonly position: number;
  /** The change that ended it. */
  readonly before: string;
  readonly at: string;
}

/** A state of the song that was kept under a number and a name. */
export interface Revision {
  readonly number: number;
  readonly name: string;
  readonly note: string;
  /** What changed since the one before, in words. */
  readonly changes: readonly string[];
  readonly at: string;
}

/** What ways to clean a mic do to it. */
export interface JudgedCleaning extends WaysAnswer {
  readonly ways: readonly Treatment[];
}
/** What the kit loses in mono, over so many strokes. */
export interface MonoMeasured {
  readonly bands: readonly MonoBand[];
  readonly strokes: number;
}
export interface PlacesMeasured {
  readonly places: readonly CymbalPlace[];
}
export type NullMeasured = NullResult;
/** What is wrong with the kit as it stands, worst first. */
export interface KitChecked {
  readonly verdicts: readonly Verdict[];
}
/** The kit beside the reference record, from when in the song and in the record, and over how long, s. */
export interface RecordMeasured extends BesideRecord {
  readonly kitFrom: number;
  readonly recordFrom: number;
  readonly seconds: number;
}
export type PathJudged = PathEffect;
export type MaskingJudged = MaskingMeasured;

/** What the server has for files that come in, bytes. */
export interface Room {
  readonly diskFree: number;
  /** Decoded audio that an analysis holds in memory; what is more lies on the disk meanwhile. */
  readonly analysisHeld: number;
}

/** How the files of one upload fared; an archive holds several. */
export interface Delivered {
  readonly taken: readonly { readonly file: string; readonly remarks: readonly string[] }[];
  readonly refused: readonly { readonly file: string; readonly message: string }[];
}

/** A chain that is kept under a name, for all songs. */
export interface KeptChain {
  readonly id: string;
  readonly name: string;
  readonly chain: readonly ProcessorState[];
}

/** Where the sounds of a new layer come from: files of the song by the ids of their mics, its own recording, or nowhere: they are made. */
export const layerOrigins = ["files", "recording", "made"] as const;
export interface LayerSource {
  readonly drum: Piece;
  readonly from: (typeof layerOrigins)[number];
  readonly files: readonly string[];
}
