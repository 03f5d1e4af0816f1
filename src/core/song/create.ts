import { processorType } from "../processors";
import type { ParamValue } from "../params";
import type {
  Bus,
  BusKind,
  Mic,
  Piece,
  Place,
  ProcessorState,
  ShapingSettings,
  Song,
  TightenSettings,
} from "./song";

/**
 * Processors every mic has, in this order. Cancelling comes first, because it compares the mics as they were recorded;
 * then the delay, because it holds the mic back: what lies behind it is heard at once when it is moved. Input and pan are
 * always on, the rest waits.
 */
export const micChain = [
  "cancel",
  "delay",
  "polarity",
  "rotation",
  "trim",
  "gate",
  "dynamicEq",
  "eq",
  "compressor",
  "saturation",
  "pan",
] as const;
/** True for what shapes a mic; false for what cannot be switched off. */
export const canSwitch = (type: string): boolean => !processorType(type).alwaysOn;

const defaults = (type: string): Record<string, ParamValue> =>
  Object.fromEntries(Object.entries(processorType(type).params).map(([name, spec]) => [name, spec.default]));

/** An id for one more processor of a type: the owner's and the type, so that it is the same on every machine. */
export function freeId(owner: string, type: string, taken: readonly { readonly id: string }[]): string {
  const is = (id: string) => taken.some((p) => p.id === id);
  let id = `${owner}.${type}`;
  for (let n = 2; is(id); n++) id = `${owner}.${type}${n}`;
  return id;
}

/** A processor at its defaults, with the id of the first of its type. */
export const newProcessor = (
  owner: string,
  type: string,
  on = false,
  params: Record<string, ParamValue> = {},
): ProcessorState => ({
  id: `${owner}.${type}`,
  type,
  on: on || !canSwitch(type),
  params: { ...defaults(type), ...params },
});

export interface MicFacts {
  id: string;
  file: string;
  audio: string | null;
  channels: number;
  frames: number;
  piece: Piece;
  place: Place;
  sure: number;
  start?: number;
  timeReference?: number | null;
}

/** Pan in % that fits a place and piece: pairs wide, toms as the audience sees them, the rest in the middle. */
export function usualPan({ piece, place }: Pick<Mic, "piece" | "place">): number {
  if (place === "left") return -100;
  if (place === "right") return 100;
  const spread: Partial<Record<Piece, number>> = {
    hat: -35,
    tom1: -25,
    tom2: 10,
    tom3: 30,
    floor: 45,
    ride: 40,
  };
  return spread[piece] ?? 0;
}

export const newMic = (facts: MicFacts): Mic => ({
  start: 0,
  clockPpm: 0,
  timeReference: null,
  ...facts,
  silent: false,
  unplayed: false,
  peakDbfs: 0,
  reference: null,
  lateBy: 0,
  locked: false,
  ownEdits: [],
  chain: micChain.map((type) =>
    newProcessor(facts.id, type, false, type === "pan" ? { position: usualPan(facts) } : {}),
  ),
  level: 0,
  muted: false,
  soloed: false,
  output: "kit",
  sends: [],
});

/** A bus with nothing set on it. */
export const newBus = (
  id: string,
  name: string,
  kind: BusKind,
  { chain = [], level = 0, output = "kit", piece = null, muted = false }: Partial<Bus> = {},
): Bus => ({
  id,
  name,
  kind,
  piece,
  chain,
  level,
  pan: 0,
  width: 100,
  muted,
  soloed: false,
  output,
  sends: [],
});

const parallel = (id: string, name: string, kind: BusKind, chain: ProcessorState[], level: number): Bus =>
  newBus(id, name, kind, { chain, level, muted: true });

/** Buses of a new song. The parallel ones start muted: nothing is added behind the user's back. */
export const newBuses = (): Bus[] => [
  parallel(
    "squash",
    "Parallel compression",
    "parallel",
    [
      // 12-15 dB at 3-4:1 under the shells: common practice, no source.
      newProcessor("squash", "compressor", true, {
        threshold: -30,
        ratio: 4,
        attack: 0.001,
        release: 0.25,
        makeup: 8,
      }),
      newProcessor("squash", "eq"),
    ],
    -8,
  ),
  parallel(
    "grit",
    "Parallel saturation",
    "parallel",
    [
      newProcessor("grit", "eq", true, { highPassSlope: "12", highPassFrequency: 120 }),
      newProcessor("grit", "saturation", true, { drive: 15, output: -9 }),
    ],
    -12,
  ),
  parallel("room", "Room", "room", [newProcessor("room", "reverb", true), newProcessor("room", "eq")], -14),
  newBus("kit", "Kit", "kit", {
    output: null,
    chain: [
      newProcessor("kit", "eq"),
      newProcessor("kit", "compressor", false, { threshold: -12, ratio: 2, attack: 0.03, release: 0.2 }),
      newProcessor("kit", "saturation", false, { drive: 0, output: 0 }),
    ],
  }),
];

/** How long a layer's last stroke sounds on behind it, s. */
const lastStroke = 2;

/**
 * Frames of a song: to the end of the mic that ends last. A layer lasts as long as strokes of its own; without them it has no length, as
 * long as there is anything else.
 */
export function songFrames(
  mics: readonly Pick<Mic, "start" | "frames" | "layer">[],
  sampleRate: number,
): number {
  const ends = mics.map(({ start, frames, layer }) => {
    if (!layer) return start + frames;
    const last = layer.strokes?.reduce((most, s) => Math.max(most, s.time), 0);
    return last === undefined ? 0 : Math.ceil((last + lastStroke) * sampleRate);
  });
  const longest = Math.max(0, ...ends);
  return longest > 0 ? longest : mics.reduce((most, m) => Math.max(most, m.frames), 0);
}

/** Nothing moved. A stroke within 3 ms of the grid counts as on it (common practice, no source). */
export const newTighten = (): TightenSettings => ({
  strength: 0,
  grid: "1/16",
  swing: 0.5,
  window: 0.003,
  largest: 0.04,
  leaders: ["kick", "snare", "tom1", "tom2", "tom3", "floor"],
  keepLean: false,
  between: "nearest",
  byPiece: {},
  bySection: {},
  locked: [],
  left: [],
  alone: [],
});

/** How a kit is shaped as long as nobody says otherwise. */
export const newShaping = (): ShapingSettings => ({ flavour: "modern", byPiece: {}, tomsTogether: false });

/** A song around some mics, with nothing decided yet. frames: the longest mic. */
export const newSong = (title: string, sampleRate: number, mics: readonly Mic[]): Song => ({
  format: "jubo-song",
  formatVersion: 9,
  title,
  sampleRate,
  frames: songFrames(mics, sampleRate),
  mics,
  buses: newBuses(),
  hits: [],
  bleed: {},
  detection: { sensitivity: {}, corrections: [] },
  tempo: null,
  sections: [],
  align: { anchor: "close", rooms: null },
  plan: { mirrored: false, places: {} },
  shaping: newShaping(),
  quick: {},
  tighten: newTighten(),
  edits: [],
  referenceRecord: null,
  refused: [],
});

type WithChain = { readonly chain: readonly ProcessorState[]; readonly id: string };

/** The first processor of a type in a chain; undefined where there is none. */
export const firstOf = ({ chain }: WithChain, type: string): ProcessorState | undefined =>
  chain.find((p) => p.type === type);

/** A processor that every mic has once. Errors  TypeError where a chain has none. */
export function processorOf(owner: WithChain, type: string): ProcessorState {
  const found = firstOf(owner, type);
  if (!found) throw new TypeError(`${owner.id} has no ${type}`);
  return found;
}
