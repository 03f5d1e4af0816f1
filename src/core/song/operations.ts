import { checkParam, type ParamValue } from "../params";
import { processorType } from "../processors";
import { songFrames } from "./create";
import { renamePieces, reversedNames, type PieceNames } from "./renamePieces";
import type {
  AlignSettings,
  Bus,
  DetectionSettings,
  Edit,
  Hit,
  Mic,
  PlanSettings,
  ProcessorState,
  Section,
  SectionValues,
  Send,
  Song,
  Tempo,
  TightenSettings,
} from "./song";

export type MicValues = Partial<
  Pick<
    Mic,
    | "piece"
    | "place"
    | "sure"
    | "level"
    | "muted"
    | "soloed"
    | "silent"
    | "unplayed"
    | "reference"
    | "lateBy"
    | "peakDbfs"
    | "output"
    | "levelBySection"
    | "locked"
    | "key"
    | "start"
    | "audio"
    | "clockPpm"
    | "frames"
    | "ownEdits"
  >
>;
export type BusValues = Partial<Pick<Bus, "name" | "level" | "muted" | "soloed" | "levelBySection">>;
export interface SongValues {
  readonly title?: string;
  readonly tempo?: Tempo | null;
  readonly hits?: readonly Hit[];
  readonly bleed?: Song["bleed"];
  readonly heardAs?: Song["heardAs"];
  readonly detection?: DetectionSettings;
  readonly sections?: readonly Section[];
  readonly referenceRecord?: string | null;
  readonly align?: AlignSettings;
  readonly plan?: PlanSettings;
  readonly tighten?: TightenSettings;
  readonly edits?: readonly Edit[];
  readonly refused?: readonly string[];
}

/** One change of a song. Everything that changes a song is one of these, and has an inverse of the same kind. */
export type Operation =
  | { readonly op: "setSong"; readonly values: SongValues }
  | { readonly op: "setMic"; readonly mic: string; readonly values: MicValues }
  | { readonly op: "setBus"; readonly bus: string; readonly values: BusValues }
  | {
      readonly op: "setProcessor";
      /** Mic or bus. */
      readonly owner: string;
      readonly processor: string;
      readonly on?: boolean;
      readonly params?: Readonly<Record<string, ParamValue>>;
      /** Values by section, whole: what is not in it no longer differs. */
      readonly bySection?: SectionValues;
    }
  /** Drums are called otherwise, and what was found of them goes along. */
  | { readonly op: "renamePieces"; readonly names: PieceNames }
  | { readonly op: "setSends"; readonly mic: string; readonly sends: readonly Send[] }
  | { readonly op: "addMics"; readonly mics: readonly Mic[] }
  | { readonly op: "removeMics"; readonly mics: readonly string[] }
  | { readonly op: "several"; readonly operations: readonly Operation[] };

export interface Applied {
  readonly song: Song;
  readonly inverse: Operation;
}

/** Old values of the keys that are set. */
function pick<T extends object>(from: T, keys: readonly string[]): Partial<T> {
  return Object.fromEntries(keys.map((k) => [k, from[k as keyof T]])) as Partial<T>;
}

function find<T extends { id: string }>(list: readonly T[], id: string, what: string): T {
  const found = list.find((x) => x.id === id);
  if (!found) throw new RangeError(`there is no ${what} "${id}" in this song`);
  return found;
}

const replace = <T extends { id: string }>(list: readonly T[], changed: T): T[] =>
  list.map((x) => (x.id === changed.id ? changed : x));

function changeProcessor(
  chain: readonly ProcessorState[],
  o: Extract<Operation, { op: "setProcessor" }>,
): [ProcessorState[], Operation] {
  const state = find(chain, o.processor, "processor");
  const table = processorType(state.type).params;
  for (const values of [o.params ?? {}, ...Object.values(o.bySection ?? {})])
    for (const [name, value] of Object.entries(values)) checkParam(table, name, value);
  const changed = {
    ...state,
    on: o.on ?? state.on,
    params: { ...state.params, ...o.params },
    ...(o.bySection ? { bySection: o.bySection } : {}),
  };
  const inverse: Operation = {
    op: "setProcessor",
    owner: o.owner,
    processor: o.processor,
    ...(o.on === undefined ? {} : { on: state.on }),
    ...(o.bySection ? { bySection: state.bySection ?? {} } : {}),
    ...(o.params ? { params: pick(state.params, Object.keys(o.params)) as Record<string, ParamValue> } : {}),
  };
  return [replace(chain, changed), inverse];
}

/**
 * Applies one operation; the given song is not changed.
 * Errors  RangeError for a mic, bus or processor that is not there or a value out of range, TypeError for a wrong name.
 */
export function applyOperation(song: Song, o: Operation): Applied {
  switch (o.op) {
    case "setSong":
      return {
        song: { ...song, ...o.values },
        inverse: { op: "setSong", values: pick(song, Object.keys(o.values)) as SongValues },
      };
    case "setMic": {
      const mic = find(song.mics, o.mic, "mic");
      const inverse: Operation = { ...o, values: pick(mic, Object.keys(o.values)) as MicValues };
      return withMics(song, replace(song.mics, { ...mic, ...o.values }), inverse);
    }
    case "setBus": {
      const bus = find(song.buses, o.bus, "bus");
      return {
        song: { ...song, buses: replace(song.buses, { ...bus, ...o.values }) },
        inverse: { ...o, values: pick(bus, Object.keys(o.values)) as BusValues },
      };
    }
    case "setProcessor": {
      const mic = song.mics.find((m) => m.id === o.owner);
      const owner = mic ?? find(song.buses, o.owner, "mic or bus");
      const [chain, inverse] = changeProcessor(owner.chain, o);
      return mic
        ? { song: { ...song, mics: replace(song.mics, { ...mic, chain }) }, inverse }
        : {
            song: { ...song, buses: replace(song.buses, { ...find(song.buses, o.owner, "bus"), chain }) },
            inverse,
          };
    }
    case "renamePieces":
      return {
        song: renamePieces(song, o.names),
        inverse: { op: "renamePieces", names: reversedNames(o.names) },
      };
    case "setSends": {
      const mic = find(song.mics, o.mic, "mic");
      for (const send of o.sends) find(song.buses, send.bus, "bus");
      return {
        song: { ...song, mics: replace(song.mics, { ...mic, sends: o.sends }) },
        inverse: { ...o, sends: mic.sends },
      };
    }
    case "addMics": {
      const taken = o.mics.find((m) => song.mics.some((x) => x.id === m.id));
      if (taken) throw new RangeError(`there is already a mic "${taken.id}" in this song`);
      return withMics(song, [...song.mics, ...o.mics], { op: "removeMics", mics: o.mics.map((m) => m.id) });
    }
    case "removeMics": {
      const gone = o.mics.map((id) => find(song.mics, id, "mic"));
      return withMics(
        song,
        song.mics.filter((m) => !o.mics.includes(m.id)),
        { op: "addMics", mics: gone },
      );
    }
    case "several": {
      let now = song;
      const inverses: Operation[] = [];
      for (const one of o.operations) {
        const applied = applyOperation(now, one);
        now = applied.song;
        inverses.unshift(applied.inverse);
      }
      return { song: now, inverse: { op: "several", operations: inverses } };
    }
  }
}

const withMics = (song: Song, mics: readonly Mic[], inverse: Operation): Applied => ({
  song: { ...song, mics, frames: songFrames(mics) },
  inverse,
});

/** Applies operations in order and returns the last song. */
export const applyAll = (song: Song, operations: readonly Operation[]): Song =>
  operations.reduce((s, o) => applyOperation(s, o).song, song);

/** True when an operation keeps mics, buses and chains as they are, so that a running engine can take it up. */
export function keepsStructure(o: Operation): boolean {
  if (o.op === "several") return o.operations.every(keepsStructure);
  if (o.op === "setMic")
    return !("start" in o.values || "audio" in o.values || "frames" in o.values || "key" in o.values);
  return o.op !== "addMics" && o.op !== "removeMics";
}
