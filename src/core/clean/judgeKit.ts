import type { CleaningChoice, Treatment, Verdict } from "../facts/treatment";
import { askBelow } from "../gather/labelQuestions";
import type { Facts } from "../facts/facts";
import { isShell, type Mic, type Song } from "../song/song";
import { cancelStretch } from "./cancelStretch";
import { gateBehindCancel } from "./gates";
import { judgedMoments, momentSeconds } from "./judgedMoments";
import { bleedTimes } from "./spectra";
import { chainWith, judgeTreatment, othersHeard } from "./treatments";
import { stretchOf, type Samples } from "../signal/samples";

/** Strokes of a drum from which it is judged. */
const fewest = 2;

/** What a way may cost at most, and must gain: dB of the main strokes, share of ghost notes, dB of the bleed. */
const strokesLose = 0.5;
const ghostsStay = 0.95;
const bleedLoses = 2;
/** Strokes less sure than this in the middle are none to gate by: calibrated, one of ten would be wrong. */
const sureEnough = 0.9;
/** Ghost notes less sure than this may be bleed, which shall go. */
const sureGhost = 0.8;

/** Moments of the kit one after another, as recorded and as cancelling leaves every mic, [mic][channel]. */
interface Digest {
  readonly song: Song;
  readonly starts: readonly number[];
  readonly plain: readonly (readonly Float32Array[])[];
  readonly cancelled: readonly (readonly Float32Array[])[];
}

const joined = (parts: readonly Float32Array[]): Float32Array => {
  const out = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  parts.reduce((at, p) => (out.set(p, at), at + p.length), 0);
  return out;
};

/** What cleaning is judged by; small enough to be handed to another thread. */
export interface CleaningAsk {
  readonly song: Song;
  readonly facts: Facts;
  /** Song seconds at which the moments begin, and what they hold as recorded, [moment][mic][channel]. */
  readonly starts: readonly number[];
  readonly moments: readonly (readonly (readonly Float32Array[])[])[];
}

/** Shape   audio [mic][channel] as recorded, from the song's first frame on. */
export function cleaningAsk(song: Song, facts: Facts, audio: readonly (readonly Samples[])[]): CleaningAsk {
  const starts = judgedMoments(song);
  const frames = Math.round(momentSeconds * song.sampleRate);
  // Copies: a view would take all of its mic to another thread.
  const cut = (x: Samples, from: number): Float32Array => stretchOf(x, from, frames).slice();
  const moments = starts.map((t) =>
    audio.map((channels) => channels.map((x) => cut(x, Math.round(t * song.sampleRate)))),
  );
  return { song, facts, starts, moments };
}

function digestOf({ song, starts, moments }: CleaningAsk): Digest {
  const all = {
    ...song,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map((p) => (p.type === "cancel" ? { ...p, on: isShell(m.piece) } : p)),
    })),
  };
  const cancelled = moments.map((stretch, n) =>
    cancelStretch(all, stretch, Math.round(starts[n]! * song.sampleRate)),
  );
  const whole = (parts: CleaningAsk["moments"]) =>
    song.mics.map((m, i) =>
      Array.from({ length: m.channels }, (_, ch) => joined(parts.map((p) => p[i]![ch]!))),
    );
  return { song, starts, plain: whole(moments), cancelled: whole(cancelled) };
}

const doesGood = ({ strokesDb, ghosts, ghostsKept, bleedDb }: Verdict): boolean =>
  strokesDb >= -strokesLose &&
  ghostsKept >= Math.min(ghostsStay * ghosts, ghosts - 1) &&
  bleedDb <= -bleedLoses;

function choose({ song, starts, plain, cancelled }: Digest, facts: Facts, mic: Mic): CleaningChoice | null {
  const { hits, sampleRate } = song;
  const at = song.mics.indexOf(mic);
  const frames = (times: readonly number[]): number[] =>
    times.flatMap((t) => {
      const late = t + mic.lateBy / sampleRate;
      const n = starts.findIndex((s) => late >= s && late < s + momentSeconds);
      return n < 0 ? [] : [Math.round((late - starts[n]! + n * momentSeconds) * sampleRate)];
    });
  const own = hits.filter((h) => h.piece === mic.piece);
  const instants = {
    mains: frames(own.filter((h) => !h.ghost).map((h) => h.time)),
    ghosts: frames(own.filter((h) => h.ghost && h.sure >= sureGhost).map((h) => h.time)),
    bleed: frames(bleedTimes(hits, mic.piece)),
  };
  if (instants.mains.length < fewest || instants.bleed.length < fewest) return null;
  const opens = Float64Array.from(frames(own.map((h) => h.time))).sort();
  const judge = (gate: Treatment["gate"]): Verdict =>
    judgeTreatment(
      chainWith(mic, { id: "cancel", cancel: true, gate, dynamicEq: null }),
      plain[at]!,
      instants,
      opens,
      sampleRate,
      cancelled[at]!,
    );
  const gate = gateBehindCancel(facts, mic);
  const sure = own.reduce((sum, h) => sum + h.sure, 0) / own.length;
  if (gate && mic.sure >= askBelow && sure >= sureEnough) {
    const verdict = judge(gate.params);
    if (doesGood(verdict)) return { way: "gated", verdict };
  }
  const verdict = judge(null);
  return { way: doesGood(verdict) ? "cancelled" : "none", verdict };
}

/**
 * What cleaning would do to every mic of a shell, measured on some moments of the song before it is proposed: the strongest way
 * that does good, and nothing where every way costs strokes or ghost notes, or takes no bleed.
 * Shape   by mic id; mics that hear nobody else, or whose drum is hardly struck, are left out.
 */
export function judgeKit(ask: CleaningAsk): Record<string, CleaningChoice> {
  const { song, facts } = ask;
  const judged = song.mics.filter(
    (m) => isShell(m.piece) && !m.silent && !m.unplayed && othersHeard(song, m) > 0 && facts.levels[m.id],
  );
  if (judged.length === 0 || ask.starts.length === 0) return {};
  const digest = digestOf(ask);
  return Object.fromEntries(
    judged.flatMap((m) => {
      const choice = choose(digest, facts, m);
      return choice ? [[m.id, choice]] : [];
    }),
  );
}
