import { gainToDb, peakOf, quantile } from "../signal/level";
import type { Piece } from "../song/song";
import { estimateBleed, suspectToms, type Bleed, type Quiet } from "./bleed";
import { usualLevel, type BandEnergies } from "./bandEnergies";
import { findCandidates, type Candidate } from "./candidates";
import { clearStrokeEnergy, excessOf, hitExcess } from "./evidence";
import { findStart, onsetSignals } from "./onset";

/** A mic as the detector takes it: the main mic of its piece, or a far mic that hears a piece without one. */
export interface CloseMic {
  piece: Piece;
  audio: Float32Array;
  /** A far mic: its energy says nothing about what other mics hear. */
  far?: boolean;
}

/** Something that happens in the main mic of a drum: a stroke or bleed. */
export interface StrokeEvent {
  /** Start of its transient, s. */
  readonly time: number;
  /** Peak in the mic, dBFS. */
  readonly levelDb: number;
  /** Peak in the band in which the drum's strokes begin, dBFS. */
  readonly peakDb: number;
  /** Energy of the attack against that of the body, dB. */
  readonly brightness: number;
  /** dB over what the strokes of the other drums bring into the mic; the more, the surer a stroke. */
  readonly excess: number;
}

export interface PieceEvents {
  readonly piece: Piece;
  /** Ascending. */
  readonly events: readonly StrokeEvent[];
  /** Its mic hears little but the others. */
  readonly suspect: boolean;
  /** Peak under which all but the loudest fiftieth of the bleed in its mic lies, dBFS; null: there is none. */
  readonly bleedDb: number | null;
}

/** Frames after the start within which a stroke's peak lies, s. */
const peakWithin = 0.012;
/** Starts nearer than this are one, s. */
const sameStart = 0.0015;
/** Excess under which an event is no stroke at any sensitivity, dB. */
const hopeless = -14;
/** Rounds in which bleed and strokes are told apart, each from the other. */
const rounds = 3;

/** Attack (0.9 to 6 kHz) over body (120 to 900 Hz) of what comes in, dB; 0 where nothing does. */
function brightnessOf(own: Float64Array): number {
  const attack = own[3]! + own[4]!;
  const body = own[1]! + own[2]!;
  return attack + body > 0
    ? Math.max(-60, Math.min(60, 10 * Math.log10((attack + 1e-14) / (body + 1e-14))))
    : 0;
}

/** Events of a mic with their starts and peaks. The peak ends where the next event begins. */
function locate(
  mic: CloseMic,
  candidates: readonly Candidate[],
  hopFrames: number,
  sampleRate: number,
): StrokeEvent[] {
  const signals = onsetSignals(mic.audio, mic.piece, sampleRate);
  // What is no stroke at any sensitivity needs no exact start.
  const starts = candidates.map((c) => {
    const around = c.column * hopFrames;
    return c.excess > hopeless ? findStart(signals, around, sampleRate) : around;
  });
  const window = Math.round(peakWithin * sampleRate);
  const shortest = Math.round(0.003 * sampleRate);
  const events = candidates
    .map((c, i): StrokeEvent => {
      const at = starts[i]!;
      const next = starts[i + 1];
      const end = next !== undefined && next - at > shortest ? Math.min(next, at + window) : at + window;
      return {
        time: at / sampleRate,
        levelDb: gainToDb(peakOf(mic.audio, at, end)),
        peakDb: gainToDb(peakOf(signals.stroke, at, end)),
        brightness: brightnessOf(c.own),
        excess: c.excess,
      };
    })
    .sort((a, b) => a.time - b.time);
  // Two rises may lead back to one start: then the surer tells.
  return events.reduce<StrokeEvent[]>((kept, e) => {
    const last = kept[kept.length - 1];
    if (!last || e.time - last.time > sameStart) kept.push(e);
    else if (e.excess > last.excess) kept[kept.length - 1] = e;
    return kept;
  }, []);
}

/** How long a stroke's own tail may rise again, s. */
const ownTail = 0.08;

/** Peak of the loudest bleed in a mic, what rises in the tails of its own strokes left out. */
function bleedPeak(events: readonly StrokeEvent[], piece: Piece): number | null {
  const strokes = events.filter((e) => e.excess > hitExcess(piece));
  const inTail = (t: number) => strokes.some((s) => t > s.time && t - s.time < ownTail);
  const peaks = events.filter((e) => e.excess <= hitExcess(piece) && !inTail(e.time)).map((e) => e.peakDb);
  return peaks.length > 0 ? quantile(peaks, 0.98) : null;
}

/** What of the events must be kept to decide about them again, with as many digits as matter. */
export const thinned = (found: PieceEvents): PieceEvents => ({
  ...found,
  events: found.events
    .filter((e) => e.excess > hopeless)
    .map((e) => ({
      time: Number(e.time.toFixed(6)),
      levelDb: Number(e.levelDb.toFixed(2)),
      peakDb: Number(e.peakDb.toFixed(2)),
      brightness: Number(e.brightness.toFixed(1)),
      excess: Number(e.excess.toFixed(2)),
    })),
});

/**
 * Finds what happens in the main close mic of every drum and measures how far it stands over what the strokes of the
 * other drums can bring there, as all close mics hear them at the same instant.
 * Shape   one entry a piece, with the energies of its audio (bandEnergies); audio of equal sample rate.
 * Source  band-wise energy rise (Bello et al., IEEE Trans. SAP 13(5), 2005); the bleed test is our own.
 */
export function findEvents(
  mics: readonly CloseMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
  progress: (share: number) => void = () => {},
): PieceEvents[] {
  const pieces = mics.map((m) => m.piece);
  const candidates = pieces.map((piece, m) => findCandidates(piece, m, energies));
  const floors = energies.map((e) => Float64Array.from(e.energy, (x) => 2 * usualLevel(x, 0.3)));
  const none = new Float64Array(floors[0]?.length ?? 0);
  const score = (bleed: Bleed, first: boolean) =>
    candidates.forEach((list, m) => {
      const clear = first ? none : clearStrokeEnergy(list);
      for (const c of list) c.excess = excessOf(c, pieces[m]!, m, bleed, floors[m]!, clear);
    });
  const suspects = suspectToms(pieces, candidates);
  const quiet = mics.map((m, i): Quiet => (m.far ? "listener" : suspects[i] ? "suspect" : "no"));
  let bleed = estimateBleed(pieces, candidates, 0.2, null, quiet);
  score(bleed, true);
  for (let round = 0; round < rounds; round++) {
    bleed = estimateBleed(pieces, candidates, 0.7, bleed, quiet);
    score(bleed, false);
  }
  return mics.map((mic, m) => {
    progress((m + 1) / mics.length);
    const events = locate(mic, candidates[m]!, energies[m]!.hopFrames, sampleRate);
    return { piece: mic.piece, events, suspect: suspects[m]!, bleedDb: bleedPeak(events, mic.piece) };
  });
}
