import type { ParamValue } from "../params";
import type { Layer } from "./layer";
import type { Piece, Place } from "./piece";

export { steps, type Step } from "../steps";
export { pieces, places, type Piece, type Place } from "./piece";
export type { GhostWay, Layer, LayerShift, LayerStroke, OneShot } from "./layer";

/** Values that differ from the song's, by section id. */
export type SectionValues = Readonly<Record<string, Readonly<Record<string, ParamValue>>>>;

/** One processor of a chain with its setting. */
export interface ProcessorState {
  readonly id: string;
  readonly type: string;
  readonly on: boolean;
  readonly params: Readonly<Record<string, ParamValue>>;
  /** Parameters that have another value in a section. */
  readonly bySection?: SectionValues;
  /** Mic or bus, by id, to which its detector listens; null or missing: to what comes into it. */
  readonly key?: string | null;
  /** File of the song, by mic id, whose sound is the impulse response that it answers with; null or missing: none. */
  readonly response?: string | null;
}

/** Where a send is taken: what comes into the chain, what leaves it, or what leaves the fader. */
export const taps = ["input", "chain", "fader"] as const;
export type Tap = (typeof taps)[number];

export interface Send {
  readonly bus: string;
  /** dB. */
  readonly level: number;
  readonly from: Tap;
  /** It keeps the place between left and right that the pan gives; otherwise it goes as if that stood in the middle. */
  readonly followsPan: boolean;
}

export interface Mic {
  readonly id: string;
  /** Name of the delivered file. */
  readonly file: string;
  /** Where the audio lies: an audio id of the store, or null when it is found by its file name. */
  readonly audio: string | null;
  readonly channels: number;
  readonly frames: number;
  /** Song frame of the file's first frame: 0 unless it was recorded from later on. */
  readonly start: number;
  /** Millionths by which its recorder's clock was corrected: what is played is a copy without them. */
  readonly clockPpm: number;
  /** Time of day of the first frame as a broadcast file tells it, s; null without one. */
  readonly timeReference: number | null;
  readonly piece: Piece;
  readonly place: Place;
  /** How sure the label is, 0..1. */
  readonly sure: number;
  readonly silent: boolean;
  readonly unplayed: boolean;
  readonly peakDbfs: number;
  /** Main mic of the same drum, by id. */
  readonly reference: string | null;
  /** Measured delay against the main mic, frames; when the drum's hits arrive here. */
  readonly lateBy: number;
  /** Its polarity and delay are right and no proposal touches them. */
  readonly locked: boolean;
  /** Cuts of this mic alone, in its own recorded time, before those of the whole kit: a layer that follows the hits. */
  readonly ownEdits: readonly Edit[];
  /** It plays one-shots that lie in its file at the strokes of a drum; missing: it is a recording. */
  readonly layer?: Layer;
  readonly chain: readonly ProcessorState[];
  /** Fader, dB. */
  readonly level: number;
  /** Fader in sections where it differs, dB, by section id. */
  readonly levelBySection?: Readonly<Record<string, number>>;
  /** How the fader is moved over the song, beside its level; ascending. */
  readonly levelMoves?: readonly LevelMove[];
  readonly muted: boolean;
  readonly soloed: boolean;
  readonly output: string;
  readonly sends: readonly Send[];
}

/** A point of a fader's way over the song. */
export interface LevelMove {
  /** s of the song as it is heard. */
  readonly time: number;
  /** Beside the level of the song or section, dB. */
  readonly db: number;
}

/** The end of everything; the mics of one drum; several drums; a parallel path; a simulated room. */
export const busKinds = ["kit", "drum", "group", "parallel", "room"] as const;
export type BusKind = (typeof busKinds)[number];

export interface Bus {
  readonly id: string;
  readonly name: string;
  readonly kind: BusKind;
  /** Drum whose colour and strokes it has; null: none. */
  readonly piece: Piece | null;
  readonly chain: readonly ProcessorState[];
  readonly level: number;
  /** Level in sections where it differs, dB, by section id. */
  readonly levelBySection?: Readonly<Record<string, number>>;
  /** How the fader is moved over the song, beside its level; ascending. */
  readonly levelMoves?: readonly LevelMove[];
  /** Balance of left and right, %. */
  readonly pan: number;
  /** Of the stereo picture, %: 0 is mono, 100 as it comes in. */
  readonly width: number;
  readonly muted: boolean;
  readonly soloed: boolean;
  /** Bus it goes to; null for the kit. */
  readonly output: string | null;
  readonly sends: readonly Send[];
}

/** How a stroke is played: alone, as the grace note of a flam, within a roll, on the rim. */
export const hitKinds = ["stroke", "grace", "roll", "rim"] as const;
export type HitKind = (typeof hitKinds)[number];

export interface Hit {
  readonly piece: Piece;
  /** Start of the transient in the drum's main close mic, s from the start of the files. */
  readonly time: number;
  /** Peak there, dBFS. */
  readonly levelDb: number;
  /** Far quieter than the drum's main strokes. */
  readonly ghost: boolean;
  readonly kind: HitKind;
  /** 0..1. */
  readonly sure: number;
}

/** How one channel of a mic hears the drums, by band (bleed/bands). */
export interface HeardDrums {
  /** Its usual energy, dB. */
  readonly usualDb: readonly number[];
  /** By drum: energy against that in the drum's own mic, dB. */
  readonly drums: Readonly<Partial<Record<Piece, readonly number[]>>>;
}

/** What was corrected by hand among the strokes found; it outlives a new detection. */
export type HitCorrection =
  | { readonly type: "add"; readonly hit: Hit }
  | { readonly type: "drop"; readonly piece: Piece; readonly time: number }
  /** The stroke that was found at `time` lies elsewhere, or is of another kind. */
  | { readonly type: "change"; readonly piece: Piece; readonly time: number; readonly hit: Hit };

/** How strokes are told from bleed. */
export interface DetectionSettings {
  /** By piece: dB by which an event needs less than usual to count as a stroke; 0 where nothing is told. */
  readonly sensitivity: Readonly<Partial<Record<Piece, number>>>;
  readonly corrections: readonly HitCorrection[];
}

/** A meter that holds from a beat on. */
export interface MeterChange {
  /** Index of the beat that begins a bar with it. */
  readonly beat: number;
  readonly beatsPerBar: number;
  readonly compound: boolean;
}

export interface Tempo {
  /** Beats per minute, in the middle of the song where it moves. */
  readonly bpm: number;
  readonly firstBeat: number; // s
  readonly beatsPerBar: number;
  /** A beat is a dotted quarter, as in 6/8: it has three eighths. */
  readonly compound: boolean;
  /** Beats before the first full bar. */
  readonly pickUp: number;
  /** Meters that come in later, ascending. */
  readonly meters: readonly MeterChange[];
  /** The beats follow the playing instead of a steady pulse. */
  readonly follows: boolean;
  readonly beats: readonly number[]; // s
}

export interface Section {
  readonly id: string;
  readonly name: string;
  readonly from: number; // s
  readonly to: number;
}

/** From `at` on (frames of the song), what is heard was recorded `shift` frames earlier (positive: moved later). */
export interface Edit {
  readonly at: number;
  readonly shift: number;
  /** Length of the crossfade that ends at `at`, frames. */
  readonly fade: number;
  /** How alike the two sides of the crossfade are, 0..1; tells how loud each must be so that nothing dips or swells. */
  readonly likeness: number;
  /** Jump of the spectrum over the joint beyond what the material does there by itself, dB; null: not measured. */
  readonly jumpDb: number | null;
}

/** Lines per bar that strokes are moved to; T: triplets. In 6/8 a 1/8 is a third of the beat. */
export const grids = ["1/4", "1/8", "1/8T", "1/16", "1/16T", "1/32"] as const;
export type Grid = (typeof grids)[number];

/** What may differ from section to section. */
export interface SectionTighten {
  readonly strength?: number;
  readonly grid?: Grid;
  readonly swing?: number;
  readonly window?: number;
  readonly largest?: number;
}

export interface TightenSettings {
  /** Share of the way to the grid, 0..1. */
  readonly strength: number;
  readonly grid: Grid;
  /** Where the second of two grid lines lies between its neighbours: 0.5 straight, 2/3 a triplet's. */
  readonly swing: number;
  /** Hits nearer than this stay, s. */
  readonly window: number;
  /** Largest move, s. */
  readonly largest: number;
  /** Drums whose strokes decide; the others go along. */
  readonly leaders: readonly Piece[];
  /** Each drum's habitual lean stays: its grid is shifted by it. */
  readonly keepLean: boolean;
  /** Strokes between the leading ones: keep their distance to the nearest, or share the moves of both sides. */
  readonly between: "nearest" | "spread";
  /** Share of the strength by drum, 0..1; 1 where nothing is told. */
  readonly byPiece: Readonly<Partial<Record<Piece, number>>>;
  readonly bySection: Readonly<Record<string, SectionTighten>>;
  /** Regions in which nothing is moved against its surroundings, s. */
  readonly locked: readonly { readonly from: number; readonly to: number }[];
  /** Strokes that were taken back one by one: their instants as played, s. */
  readonly left: readonly number[];
  /** Drums whose own mics may be moved alone, where their bleed elsewhere allows it. */
  readonly alone: readonly Piece[];
}

/** What the kit is brought in phase with, and where the rooms are left. */
export interface AlignSettings {
  /** Close mics stay and second mics come to them; or every drum comes to where the overheads hear it. */
  readonly anchor: "close" | "overheads";
  /** Far mics of the room: as recorded, or at this many ms behind the overheads. */
  readonly rooms: number | null;
}

/** How a kit shall sound. */
export const flavours = ["modern", "vintage", "natural"] as const;
export type Flavour = (typeof flavours)[number];

/** How the kit shall sound, and the drums that shall sound otherwise. */
export interface ShapingSettings {
  readonly flavour: Flavour;
  readonly byPiece: Readonly<Partial<Record<Piece, Flavour>>>;
  /** What is set in the chain of one tom holds for all of them, each tuned to its drum. */
  readonly tomsTogether: boolean;
}
/** The flavour of a drum. */
export const flavourOf = (
  { flavour, byPiece }: Pick<ShapingSettings, "flavour" | "byPiece">,
  piece: Piece,
): Flavour => byPiece[piece] ?? flavour;

/** Controls that each stand for several values of a chain. */
export const quickControls = ["weight", "stick", "air", "density"] as const;
export type QuickControl = (typeof quickControls)[number];
/** Where they stand, -100 to 100 each. */
export type QuickValues = Readonly<Record<QuickControl, number>>;
/** What was measured of the strokes as they come in, by which the controls are placed. */
export interface QuickBasis {
  /** Lowest partial of the drum, middle of its stick, corner of its air, Hz. */
  readonly fundamental: number;
  readonly stick: number;
  readonly air: number;
  /** Threshold of the compressor at a density of 25, 50, 75 and 100, dBFS. */
  readonly thresholds: readonly number[];
  /** By control: how much louder the strokes become at -100, -50, 50 and 100, dB. */
  readonly louder: Readonly<Record<QuickControl, readonly number[]>>;
  /** Strokes that were measured. */
  readonly strokes: number;
}
export interface QuickState {
  readonly values: QuickValues;
  readonly basis: QuickBasis;
  /** How much louder all of them together make the strokes, dB, as measured. */
  readonly louder: number;
}

/** How the kit plan is drawn. */
export interface PlanSettings {
  /** A left-handed drummer's kit. */
  readonly mirrored: boolean;
  /** Pieces that stand elsewhere than usual: cm to the drummer's right, cm away from the drummer. */
  readonly places: Readonly<Partial<Record<Piece, readonly [x: number, y: number]>>>;
}

/** What a mic is. */
export type MicLabel = Pick<Mic, "piece" | "place">;

/** The whole song; everything that is heard follows from it and the audio. */
export interface Song {
  readonly format: "jubo-song";
  readonly formatVersion: 9;
  readonly title: string;
  readonly sampleRate: number;
  readonly frames: number;
  readonly mics: readonly Mic[];
  readonly buses: readonly Bus[];
  readonly hits: readonly Hit[];
  /** By mic id, a channel each: how the drums are heard; measured by the analysis, empty before it. */
  readonly bleed: Readonly<Record<string, readonly HeardDrums[]>>;
  /** By mic id: the labels by which strokes and bleed were found; missing before an analysis. */
  readonly heardAs?: Readonly<Record<string, MicLabel>>;
  readonly detection: DetectionSettings;
  readonly tempo: Tempo | null;
  readonly sections: readonly Section[];
  readonly align: AlignSettings;
  readonly plan: PlanSettings;
  readonly shaping: ShapingSettings;
  /** By id of a mic or bus: its quick controls, where they were touched. */
  readonly quick: Readonly<Record<string, QuickState>>;
  readonly tighten: TightenSettings;
  readonly edits: readonly Edit[];
  /** Mic whose file is a reference record: never part of the kit, only compared with; null: none. */
  readonly referenceRecord: string | null;
  /** Ids of proposals that were refused. */
  readonly refused: readonly string[];
}

export const farPieces: readonly Piece[] = ["overhead", "room"];
/** Struck pieces; the others are far mics or no drums. */
export const drumPieces: readonly Piece[] = [
  "kick",
  "snare",
  "tom1",
  "tom2",
  "tom3",
  "floor",
  "hat",
  "ride",
  "crash",
];
/** A mic of the kit: other music and a reference record are only heard beside it. */
export const isKitMic = (
  { referenceRecord }: Pick<Song, "referenceRecord">,
  { id, piece }: Pick<Mic, "id" | "piece">,
): boolean => piece !== "context" && piece !== "response" && id !== referenceRecord;
export const isDrum = (piece: Piece): boolean => drumPieces.includes(piece);
export const isShell = (piece: Piece): boolean =>
  ["kick", "snare", "tom1", "tom2", "tom3", "floor"].includes(piece);

/** Order of places as main mic of a drum. */
export const placeOrder: readonly Place[] = [
  "in",
  "top",
  "close",
  "pair",
  "left",
  "out",
  "side",
  "sub",
  "right",
  "bottom",
  "trigger",
];

/** The mic that stands for a drum: the inner, upper or only close one that is not silent; undefined without one. */
export const mainMic = <M extends { piece: Piece; place: Place; silent: boolean; layer?: Layer }>(
  mics: readonly M[],
  piece: Piece,
): M | undefined =>
  mics
    .filter((m) => m.piece === piece && !m.silent && !m.layer)
    .sort((a, b) => placeOrder.indexOf(a.place) - placeOrder.indexOf(b.place))[0];

/** A mic that plays one-shots. */
export type LayerMic = Mic & { readonly layer: Layer };
export const isLayer = (mic: Mic): mic is LayerMic => mic.layer !== undefined;
