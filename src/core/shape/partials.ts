import { cutSnippets } from "../hits/snippets";
import { hann, powerOfTwo, RealFft } from "../signal/fft";
import { toneT60 } from "./measureRing";

/** One of the tones in which a drum rings. */
export interface Partial {
  /** Hz. */
  readonly frequency: number;
  /** Of the fundamental. */
  readonly ratio: number;
  /** Against the fundamental, dB, over 50 to 400 ms behind the strokes. */
  readonly levelDb: number;
  /** How far it stands out of a third of an octave around it, dB. */
  readonly standsOutDb: number;
  /** Time in which it falls by 60 dB, s; null: too few strokes stand alone for it, or it sinks into something else. */
  readonly t60: number | null;
}

/** What is read of a stroke, s: once its pitch has come to rest. */
const [readFrom, readTo] = [0.05, 0.4];
/** Strokes that are listened to at most. */
const most = 48;
/** So far a tone must stand out, and so far under the fundamental it may lie, dB (common practice, no source). */
const least = { standsOut: 10, level: -45 };
/** Up to this multiple of the fundamental, and this frequency, Hz. */
const reach = { ratio: 16, frequency: 5000 };
/** Neighbours nearer than this are one tone, as a ratio. */
const apart = 1.05;
/** Tones that are told. */
const told = 6;

/** Mean power by bin behind strokes that no other follows while it is read. Null: there are none. */
function tailPower(x: Float32Array, strokes: readonly number[], sampleRate: number) {
  const alone = strokes.filter((t, i) => (strokes[i + 1] ?? Infinity) > t + readTo);
  const snippets = cutSnippets(x, alone.slice(0, most), readFrom, readTo, sampleRate);
  if (snippets.length === 0) return null;
  const size = powerOfTwo(readTo * sampleRate);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const power = new Float64Array(size / 2 + 1);
  for (const s of snippets) {
    fft.forward(s, 0, s.length, spectrum, hann(s.length));
    for (let k = 0; k < power.length; k++) power[k]! += spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
  }
  return { db: power.map((p) => 10 * Math.log10(p + 1e-300)), hz: sampleRate / size };
}

/** Place of a peak between bins, by a parabola through three of them. */
function peakAt(db: Float64Array, k: number): number {
  const [a, b, c] = [db[k - 1]!, db[k]!, db[k + 1]!];
  const bend = a - 2 * b + c;
  return k + (bend < 0 ? (0.5 * (a - c)) / bend : 0);
}

function medianIn(db: Float64Array, from: number, to: number): number {
  const sorted = db.slice(Math.max(1, Math.floor(from)), Math.ceil(to) + 1).sort();
  return sorted[Math.floor(sorted.length / 2)]!;
}

/**
 * The tones in which a drum rings: its fundamental and up to five partials, ascending; none without strokes that stand alone.
 * Shape   x from frame 0 of what the strokes are told in, s, ascending; `fundamental` in Hz.
 */
export function findPartials(
  x: Float32Array,
  strokes: readonly number[],
  fundamental: number,
  sampleRate: number,
): Partial[] {
  const tail = tailPower(x, strokes, sampleRate);
  if (!tail) return [];
  const { db, hz } = tail;
  const end = Math.min(db.length - 2, Math.min(reach.frequency, reach.ratio * fundamental) / hz);
  const found: { frequency: number; level: number; standsOutDb: number }[] = [];
  for (let k = Math.floor((0.9 * fundamental) / hz); k < end; k++) {
    const near = db.subarray(Math.max(1, Math.floor(k / apart)), Math.ceil(k * apart) + 1);
    if (near.some((v) => v > db[k]!)) continue;
    // A short transform spreads each tone over some bins: the surroundings are at least twice as wide as that.
    const reachBins = Math.max(12, 0.12 * k);
    const standsOutDb = db[k]! - medianIn(db, k - reachBins, k + reachBins);
    if (standsOutDb >= least.standsOut)
      found.push({ frequency: peakAt(db, k) * hz, level: db[k]!, standsOutDb });
  }
  const first = found.reduce<(typeof found)[number] | null>(
    (best, p) =>
      Math.abs(Math.log2(p.frequency / fundamental)) < 0.1 && (!best || p.level > best.level) ? p : best,
    null,
  );
  const own = first?.level ?? db[Math.round(fundamental / hz)]!;
  return found
    .filter((p) => p.level - own >= least.level)
    .sort((a, b) => b.level - a.level)
    .slice(0, told)
    .sort((a, b) => a.frequency - b.frequency)
    .map(({ frequency, level, standsOutDb }) => ({
      frequency,
      ratio: frequency / fundamental,
      levelDb: level - own,
      standsOutDb,
      t60: toneT60(x, strokes, frequency, sampleRate),
    }));
}
