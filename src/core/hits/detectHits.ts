import { filtered, designButterworth } from "../signal/biquad";
import { gainToDb, median, peakOf, quantile } from "../signal/level";
import { isShell, type Hit, type Piece } from "../song/song";
import { bands, type BandEnergies } from "./bandEnergies";

/** A close mic as the detector takes it: the main mic of its piece. */
export interface CloseMic {
  piece: Piece;
  audio: Float32Array;
}

/** Bands of a drum's body and of its attack; a stroke shows in both, a beating tail only in the first. */
const ownBands = (piece: Piece): { body: readonly number[]; attack: readonly number[] } => {
  if (piece === "hat") return { body: [4, 5], attack: [4, 5] };
  if (piece === "ride" || piece === "crash") return { body: [3, 4], attack: [4, 5] };
  if (piece === "snare") return { body: [1, 2], attack: [3, 4] };
  return { body: [0, 1, 2], attack: [3, 4] };
};

interface Candidate {
  column: number;
  /** Energy that came in, [band], in the mic itself. */
  own: Float64Array;
  /** The same at that instant in every mic, [mic][band]. */
  all: Float64Array[];
  excess: number;
}

/** Energy that comes in around a column: what follows less what was there before. */
function increment(e: Float32Array, column: number, from: number, to: number): number {
  let before = 0;
  let after = 0;
  for (let t = Math.max(0, column - 6); t < column - 2; t++) before = Math.max(before, e[t]!);
  for (let t = Math.max(0, column + from); t <= Math.min(e.length - 1, column + to); t++)
    after = Math.max(after, e[t]!);
  return Math.max(0, after - 1.5 * before);
}

/** Columns at which a mic's energy rises sharply in one of its bands; peaks of the rise, at least 8 ms apart. */
function findRises(b: BandEnergies, own: readonly number[]): number[] {
  const floor = own.map((k) => Math.max(quantile(Array.from(b.energy[k]!), 0.2), 1e-13));
  const rise = new Float32Array(b.columns);
  for (let t = 4; t < b.columns; t++) {
    let best = 0;
    own.forEach((k, i) => {
      const e = b.energy[k]!;
      const now = e[t]! + floor[i]!;
      const past = Math.max(e[t - 3]!, e[t - 4]!) + floor[i]!;
      best = Math.max(best, 10 * Math.log10(now / past));
    });
    rise[t] = best;
  }
  const gap = Math.round(0.008 / b.hop);
  const found: number[] = [];
  for (let t = 4; t < b.columns - 1; t++) {
    if (rise[t]! < 5 || rise[t]! < rise[t - 1]! || rise[t]! <= rise[t + 1]!) continue;
    const last = found[found.length - 1];
    if (last !== undefined && t - last < gap) {
      if (rise[t]! > rise[last]!) found[found.length - 1] = t;
    } else found.push(t);
  }
  return found;
}

/** Energy that the other mics' strokes bring into a mic at an event; `but` is left out. */
function predictBleed(c: Candidate, mic: number, but: number, k: number, bleed: Float64Array[][]): number {
  let predicted = 0;
  for (let other = 0; other < c.all.length; other++)
    if (other !== mic && other !== but) predicted += bleed[mic]![other]![k]! * c.all[other]![k]!;
  return predicted;
}

/** How far in dB an event stands over the bleed the other mics predict, in its clearest body and attack band. */
function excessOf(
  c: Candidate,
  piece: Piece,
  mic: number,
  bleed: Float64Array[][],
  floor: Float64Array,
  attackLimit: number,
): number {
  const over = (k: number): number =>
    10 * Math.log10((c.own[k]! + 1e-14) / (floor[k]! + predictBleed(c, mic, -1, k, bleed) + 1e-14));
  const own = ownBands(piece);
  // A tail that beats, or the wash of a cymbal, swells without the attack that every stroke has.
  if (Math.max(...own.attack.map((k) => c.own[k]!)) < attackLimit) return -60;
  const body = Math.max(...own.body.map(over));
  const attack = Math.max(...own.attack.map(over));
  return Math.min(0.5 * (body + attack), body + 4, attack + 4);
}

/**
 * Bleed of every mic into every other per band: the ratio of incoming energies over the events at which the other is
 * loud, a low quantile at first (most of them are no strokes of this drum), then a high one over known bleed only,
 * less what the estimate before explains by third drums.
 */
function estimateBleed(
  mics: readonly CloseMic[],
  candidates: Candidate[][],
  q: number,
  last: Float64Array[][] | null,
  suspects: readonly boolean[],
): Float64Array[][] {
  const n = candidates.length;
  const played = candidates.map((list, m) =>
    last === null ? !suspects[m] : list.some((c) => c.excess > hitExcess(mics[m]!.piece)),
  );
  const loud = candidates.map((list, m) =>
    Float64Array.from({ length: bands }, (_, k) =>
      quantile(
        list.map((c) => c.all[m]![k]!),
        0.92,
      ),
    ),
  );
  return candidates.map((list, mic) => {
    const struck = new Set(
      last
        ? list
            .filter((c) => c.excess > hitExcess(mics[mic]!.piece))
            .flatMap((c) => [-3, -2, -1, 0, 1, 2, 3].map((d) => c.column + d))
        : [],
    );
    return Array.from({ length: n }, (_, other) => {
      const gains = Float64Array.from({ length: bands }, (__, k) => {
        // A drum that is never struck brings nothing; what its mic hears are the others.
        if (other === mic || !played[other]) return 0;
        const ratios: number[] = [];
        const limit = loud[other]![k]! * 0.05;
        for (const c of candidates[other]!) {
          const theirs = c.all[other]![k]!;
          if (theirs < limit || theirs === 0 || struck.has(c.column)) continue;
          // What a third drum brings at the same instant (the hat on the kick) is not this one's bleed.
          const third = last ? predictBleed(c, mic, other, k, last) : 0;
          const here = c.all[mic]![k]!;
          ratios.push(Math.max(0.1 * here, here - third) / theirs);
        }
        return ratios.length >= 3 ? quantile(ratios, q) : NaN;
      });
      return capAcrossBands(gains);
    });
  });
}

/**
 * A drum that always sounds together with another one (hat and kick) looks like its bleed in its own bands, but not in
 * the others: there the true bleed shows, and bleed is alike in all bands within some dB. Bands without evidence take
 * the cap.
 */
function capAcrossBands(gains: Float64Array): Float64Array {
  const known = [...gains].filter((g) => Number.isFinite(g)).sort((a, b) => a - b);
  if (known.length === 0) return gains.fill(0);
  const cap = 4 * known[Math.min(1, known.length - 1)]!;
  return gains.map((g) => (Number.isFinite(g) ? Math.min(g, cap) : cap));
}

/** Attack energy under which no event is a stroke: 34 dB under the loud ones, as quiet as ghost notes get. */
function attackLimit(list: readonly Candidate[], piece: Piece): number {
  const { attack } = ownBands(piece);
  const energies = list.map((c) => Math.max(...attack.map((k) => c.own[k]!)));
  return energies.length > 0 ? quantile(energies, 0.97) * 4e-4 : 0;
}

/** Share of the energy of the loud events of a mic from which an event counts as loud: 5 dB. */
const loudShare = 0.3;
/** How loud the others' loud strokes may be in the mic of a tom that is played, dB under its own loud ones. */
const bleedInTom = -8;

/**
 * Toms that are hardly played: in their mics the loud strokes of most other drums are nearly as loud as anything.
 * Such a mic brings nothing into others, however loudly it hears them.
 */
function suspectToms(mics: readonly CloseMic[], candidates: readonly Candidate[][]): boolean[] {
  const total = (e: Float64Array) => e.reduce((a, b) => a + b, 0);
  const loud = candidates.map((list, m) => {
    const sorted = list.map((c) => total(c.all[m]!)).sort((a, b) => b - a);
    return sorted[Math.min(3, sorted.length - 1)] ?? 0;
  });
  return mics.map(({ piece }, m) => {
    if (!isShell(piece) || piece === "kick" || piece === "snare") return false;
    const heard = candidates.flatMap((list, other) => {
      const strokes = list.filter((c) => total(c.all[other]!) > loudShare * loud[other]!);
      return other === m || strokes.length === 0 ? [] : [median(strokes.map((c) => total(c.all[m]!)))];
    });
    return heard.length > 2 && 10 * Math.log10(median(heard) / (loud[m]! + 1e-20)) > bleedInTom;
  });
}

/** dB over predicted bleed from which an event counts as a stroke; cymbals rise less over what still rings. */
const hitExcess = (piece: Piece): number =>
  piece === "hat" || piece === "ride" || piece === "crash" ? 3.5 : 6;
/**
 * dB under the drum's loud strokes at which nothing counts any more: only the snare is played with ghost notes, and
 * what is weak in the mic of a cymbal is the wash of another.
 */
const lowestStroke = (piece: Piece): number =>
  piece === "snare" ? 36 : piece === "hat" ? 20 : piece === "ride" || piece === "crash" ? 16 : 24;
/** dB that strokes of a kick or tom may lie under the loudest bleed: its own mic hears it louder than all others. */
const underBleed = 6;
/** dB under the loud strokes from which on a snare stroke is a ghost note; they lie 15-25 dB under the backbeat (common practice). */
const ghostBelow = 11;

export interface DetectedHits {
  piece: Piece;
  hits: Hit[];
  /** Events in this mic that were taken for bleed: time in s and peak in dBFS. */
  bleed: { time: number; levelDb: number }[];
}

/**
 * Finds the strokes of every drum in its main close mic and tells them from bleed by what all other close mics hear at
 * the same instant: an event is a stroke when more energy comes in than the others' strokes can bring.
 * Shape   one entry a piece, with the energies of its audio (bandEnergies); audio of equal sample rate.
 * Source  band-wise energy rise (Bello et al., IEEE Trans. SAP 13(5), 2005); the bleed test is our own.
 */
export function detectHits(
  mics: readonly CloseMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
  progress: (share: number) => void = () => {},
): DetectedHits[] {
  const candidates = mics.map((_, m): Candidate[] =>
    findRises(energies[m]!, [...ownBands(mics[m]!.piece).body, ...ownBands(mics[m]!.piece).attack]).map(
      (column) => {
        const all = energies.map((e, other) =>
          Float64Array.from(e.energy, (x) =>
            other === m ? increment(x, column, -1, 3) : increment(x, column, -2, 4),
          ),
        );
        return { column, own: all[m]!, all, excess: 0 };
      },
    ),
  );
  const floors = energies.map((e) => Float64Array.from(e.energy, (x) => 2 * quantile(Array.from(x), 0.3)));
  const limits = candidates.map((list, m) => attackLimit(list, mics[m]!.piece));
  const score = (bleed: Float64Array[][]) =>
    candidates.forEach((list, m) =>
      list.forEach((c) => (c.excess = excessOf(c, mics[m]!.piece, m, bleed, floors[m]!, limits[m]!))),
    );
  const suspects = suspectToms(mics, candidates);
  let bleed = estimateBleed(mics, candidates, 0.2, null, suspects);
  score(bleed);
  for (let round = 0; round < 3; round++) {
    bleed = estimateBleed(mics, candidates, 0.7, bleed, suspects);
    score(bleed);
  }
  return mics.map((mic, m) => {
    progress((m + 1) / mics.length);
    return locate(mic, candidates[m]!, energies[m]!.hopFrames, suspects[m]!, sampleRate);
  });
}

/** Band in which the start of a stroke is looked for, Hz. */
const onsetBand = (piece: Piece): [number, number] =>
  piece === "kick"
    ? [40, 8000]
    : piece === "hat" || piece === "ride" || piece === "crash"
      ? [2000, 16000]
      : [120, 9000];

function locate(
  mic: CloseMic,
  candidates: Candidate[],
  hopFrames: number,
  suspect: boolean,
  sampleRate: number,
): DetectedHits {
  const [low, high] = onsetBand(mic.piece);
  const x = filtered(mic.audio, [
    ...designButterworth("high", low, 2, sampleRate),
    ...designButterworth("low", Math.min(high, 0.45 * sampleRate), 2, sampleRate),
  ]);
  const window = Math.round(0.012 * sampleRate);
  const limit = hitExcess(mic.piece);
  const strokes = candidates.filter((c) => c.excess > limit);
  const peakAt = (c: Candidate) =>
    gainToDb(peakOf(x, c.column * hopFrames - hopFrames, c.column * hopFrames + window));
  const peaks = strokes.map(peakAt);
  const loud = quantile(peaks, 0.8);
  const others = candidates.filter((c) => c.excess <= limit).map(peakAt);
  const hasGhosts = !isShell(mic.piece) || mic.piece === "snare";
  const lowest = Math.max(
    loud - lowestStroke(mic.piece),
    hasGhosts || others.length === 0 ? -Infinity : quantile(others, 0.98) - underBleed,
  );
  const hits: Hit[] = [];
  const bleed: DetectedHits["bleed"] = [];
  strokes.forEach((c, i) => {
    const at = findStart(x, c.column * hopFrames, sampleRate);
    const levelDb = gainToDb(peakOf(mic.audio, at, at + window));
    if (peaks[i]! < lowest) {
      bleed.push({ time: at / sampleRate, levelDb });
      return;
    }
    const ghost = mic.piece === "snare" && peaks[i]! < loud - ghostBelow;
    hits.push({
      piece: mic.piece,
      time: at / sampleRate,
      levelDb,
      ghost,
      sure: Math.min(1, Math.max(0, c.excess / 20)),
    });
  });
  if (!isPlayed(mic.piece, hits, others, suspect))
    bleed.push(...hits.splice(0).map((h) => ({ time: h.time, levelDb: h.levelDb })));
  for (const c of candidates)
    if (c.excess <= limit) {
      const at = c.column * hopFrames;
      bleed.push({
        time: at / sampleRate,
        levelDb: gainToDb(peakOf(mic.audio, at - hopFrames, at + window)),
      });
    }
  return { piece: mic.piece, hits: withoutDoubles(hits), bleed };
}

/**
 * False when what was found is doubtful or next to nothing, and no louder than the bleed beside it: then the drum is
 * never struck. One or two strokes on a cymbal are another cymbal's; a tom may well be played once.
 */
function isPlayed(piece: Piece, hits: readonly Hit[], bleedDb: readonly number[], suspect: boolean): boolean {
  if (suspect && hits.length < 3) return false;
  if (hits.length > 2 && median(hits.map((h) => h.sure)) >= 0.4) return true;
  if (!isShell(piece) && (hits.length < 3 || median(hits.map((h) => h.sure)) < 0.3)) return false;
  return bleedDb.length === 0 || median(hits.map((h) => h.levelDb)) > quantile(bleedDb, 0.98);
}

/**
 * First frame of the transient that dominates the surroundings of `around`: from half of the largest magnitude back to
 * where the signal leaves what was there before (a hat some ms earlier, a ringing tail) or a tenth of its peak.
 */
export function findStart(x: Float32Array, around: number, sampleRate: number): number {
  const ms = sampleRate / 1000;
  const from = Math.max(0, Math.round(around - 9 * ms));
  const to = Math.min(x.length, Math.round(around + 12 * ms));
  const peak = peakOf(x, from, to);
  let half = from;
  while (half < to && Math.abs(x[half]!) < 0.5 * peak) half++;
  const before = peakOf(x, Math.round(half - 8 * ms), Math.round(half - 2.5 * ms));
  const limit = Math.max(0.1 * peak, Math.min(1.5 * before, 0.45 * peak));
  const quiet = Math.round(0.8 * ms);
  let start = half;
  for (let i = half; i >= Math.max(0, half - 6 * ms) && start - i <= quiet; i--)
    if (Math.abs(x[i]!) >= limit) start = i;
  return start;
}

/** One stroke may rise twice within some ms; the surer stays. */
function withoutDoubles(hits: Hit[]): Hit[] {
  hits.sort((a, b) => a.time - b.time);
  const kept: Hit[] = [];
  for (const h of hits) {
    const last = kept[kept.length - 1];
    if (!last || h.time - last.time > 0.022) kept.push(h);
    else if (h.sure > last.sure) kept[kept.length - 1] = h;
  }
  return kept;
}
