import { gainToDb, peakOf } from "../signal/level";
import type { Samples } from "../signal/samples";
import type { Piece } from "../song/song";
import type { BandEnergies } from "./bandEnergies";
import { evenExcess } from "./evidence";
import { askedFor, findInstants, risingColumns, type Rises, type Row } from "./judge/instants";
import { Explained, type ExplainedData, type Source } from "./judge/explained";
import { StrokePrints } from "./judge/prints";
import { hopelessLevel, strokeFeatures } from "./judge/strokeFeatures";
import { strokeOdds } from "./judge/strokeOdds";
import { isCymbal } from "./ownBands";
import { findStart, onsetSignals, type OnsetSignals } from "./onset";

/** A mic as the detector takes it. */
export interface HeardMic {
  piece: Piece;
  audio: Samples;
  /** main: the mic in which its piece's strokes are found; second: another one of that piece; far: an overhead. */
  role: "main" | "second" | "far";
}

/** Something that happens in the main mic of a drum and may be a stroke: one, or bleed. */
export interface StrokeEvent {
  /** Start of its transient, s. */
  readonly time: number;
  /** Peak in the mic, dBFS. */
  readonly levelDb: number;
  /** Peak in the band in which the drum's strokes begin, dBFS. */
  readonly peakDb: number;
  /** Energy of the attack against that of the body, dB. */
  readonly brightness: number;
  /** Odds of a stroke in dB (10 log10), over `evenExcess`: there a stroke is as likely as none. */
  readonly excess: number;
}

export interface PieceEvents {
  readonly piece: Piece;
  /** Ascending. */
  readonly events: readonly StrokeEvent[];
}

/** Frames after the start within which a stroke's peak lies, s. */
const peakWithin = 0.012;
/** Starts nearer than this are one, s. */
const sameStart = 0.0015;
/** Excess under which an event is no stroke at any sensitivity, dB. */
const hopeless = -14;
/** Odds beyond these say no more, dB. */
const surest = 25;

/** What may be strokes, by instant: where, how likely, and what comes into the source's own row. */
interface Candidates {
  readonly columns: Int32Array;
  readonly excess: Float64Array;
  readonly own: (i: number) => Float64Array;
}

/** Attack (0.9 to 6 kHz) over body (120 to 900 Hz) of what comes in, dB; 0 where nothing does. */
function brightnessOf(own: Float64Array): number {
  const attack = own[3]! + own[4]!;
  const body = own[1]! + own[2]!;
  return attack + body > 0
    ? Math.max(-60, Math.min(60, 10 * Math.log10((attack + 1e-14) / (body + 1e-14))))
    : 0;
}

/** Events of a mic that may be strokes, with their starts and peaks. The peak ends where the next event begins. */
function locate(
  audio: Samples,
  signals: OnsetSignals,
  { columns, excess, own }: Candidates,
  hopFrames: number,
  sampleRate: number,
): StrokeEvent[] {
  // What is no stroke at any sensitivity needs no exact start.
  const startOf = (i: number): number | undefined => {
    if (i === columns.length) return undefined;
    const around = columns[i]! * hopFrames;
    return excess[i]! > hopeless ? findStart(signals, around, sampleRate) : around;
  };
  const window = Math.round(peakWithin * sampleRate);
  const shortest = Math.round(0.003 * sampleRate);
  let following = startOf(0);
  const events = Array.from(excess, (odds, i): StrokeEvent => {
    const at = following!;
    // Cut out before the next is looked for: the signals are read forwards.
    const [heard, stroke] = [audio, signals.stroke].map((x) => x.subarray(at, at + window));
    const next = (following = startOf(i + 1));
    const length = next !== undefined && next - at > shortest ? Math.min(next - at, window) : window;
    return {
      time: at / sampleRate,
      levelDb: gainToDb(peakOf(heard!, 0, length)),
      peakDb: gainToDb(peakOf(stroke!, 0, length)),
      brightness: brightnessOf(own(i)),
      excess: odds,
    };
  }).sort((a, b) => a.time - b.time);
  // Two rises may lead back to one start: then the surer tells.
  const single = events.reduce<StrokeEvent[]>((kept, e) => {
    const last = kept[kept.length - 1];
    if (!last || e.time - last.time > sameStart) kept.push(e);
    else if (e.excess > last.excess) kept[kept.length - 1] = e;
    return kept;
  }, []);
  return single.filter((e) => e.excess > hopeless);
}

/** What of the events must be kept to decide about them again, with as many digits as matter. */
export const thinned = (found: PieceEvents): PieceEvents => ({
  ...found,
  events: found.events.map((e) => ({
    time: Number(e.time.toFixed(6)),
    levelDb: Number(e.levelDb.toFixed(2)),
    peakDb: Number(e.peakDb.toFixed(2)),
    brightness: Number(e.brightness.toFixed(1)),
    excess: Number(e.excess.toFixed(2)),
  })),
});

/** Odds in dB on the scale of a piece's excess. */
const excessOf = (piece: Piece, odds: number): number =>
  evenExcess(piece) + Math.max(-30, Math.min(surest, (10 * odds) / Math.LN10));

/** One source with its strokes to be found; a task for any thread. */
export interface StrokesAsk {
  readonly explained: ExplainedData;
  readonly source: Source;
  /** The pieces that the source stands for: itself, or all cymbals without a mic. */
  readonly judged: readonly Piece[];
  /** The mic in which it is found. */
  readonly audio: Samples;
  readonly sampleRate: number;
}

/** What happens in the mic of a source, and how likely each is a stroke. One result a piece. */
export function findStrokes({ explained, source, judged, audio, sampleRate }: StrokesAsk): PieceEvents[] {
  const prints = new Explained(explained);
  const row = prints.rowOf(source);
  const { hopFrames } = prints.rows[row]!.energies;
  const signals = onsetSignals(audio, source, sampleRate);
  const features = strokeFeatures(prints, source, hopelessLevel);
  return judged.map((piece): PieceEvents => {
    const odds = strokeOdds(prints, piece, features);
    const candidates: Candidates = {
      columns: prints.instants.columns,
      excess: odds.map((o) => excessOf(piece, o)),
      own: (i) => prints.own(i, row),
    };
    return { piece, events: locate(audio, signals, candidates, hopFrames, sampleRate) };
  });
}

/** Does such tasks, in any order; answers in the order of the asks. `done` is told after each. */
export interface HitRunner {
  rises(asks: readonly BandEnergies[]): Promise<Rises[]>;
  strokes(asks: readonly StrokesAsk[], done: (count: number) => void): Promise<PieceEvents[][]>;
}

/** One after another on this thread. */
export const hitsHere: HitRunner = {
  rises: async (asks) => asks.map(risingColumns),
  strokes: async (asks, done) =>
    asks.map((ask, n) => {
      const found = findStrokes(ask);
      done(n + 1);
      return found;
    }),
};

/**
 * Finds what happens in the main mic of every drum, and in the first overhead for cymbals without one, and how likely each
 * is a stroke of that drum: by what all mics hear at that instant and how each drum is usually heard (judge/).
 * Shape   one entry a mic with its energies (bandEnergies); audio of equal sample rate. One result a piece with a main mic, then
 *         one for each of the `missing` cymbals, if there are overheads.
 */
export async function findEvents(
  mics: readonly HeardMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
  missing: readonly Piece[],
  progress: (share: number) => void = () => {},
  run: HitRunner = hitsHere,
): Promise<PieceEvents[]> {
  const mains = mics.filter((m) => m.role === "main");
  if (mains.length === 0) return [];
  const pieces = mains.map((m) => m.piece);
  const rows = mics.map((m, i): Row => ({
    piece: m.role === "far" ? -1 : pieces.indexOf(m.piece),
    main: m.role === "main",
    energies: energies[i]!,
  }));
  const rises = await run.rises(askedFor(rows, missing.length > 0));
  const prints = new StrokePrints(pieces, rows, findInstants(rows, rises), missing);
  progress(0.5);
  const { far } = prints;
  const asks = (far ? [...pieces, far] : pieces).map((source): StrokesAsk => {
    const own = prints.rowOf(source);
    // Only cymbals are judged by their ring, and hear it in their own mic or in the overheads.
    const heardIn = isCymbal(source) ? [own, ...prints.overheads] : [];
    const judged = source === far ? missing : [source];
    return { explained: prints.data(heardIn), source, judged, audio: mics[own]!.audio, sampleRate };
  });
  const found = await run.strokes(asks, (count) => progress(0.5 + (0.5 * count) / asks.length));
  return found.flat();
}
