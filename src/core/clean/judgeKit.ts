import type { CleaningChoice, Treatment, Verdict } from "../facts/treatment";
import { askBelow } from "../gather/labelQuestions";
import type { Facts } from "../facts/facts";
import { isShell, type Mic, type Song } from "../song/song";
import { cancelStretch } from "./cancelStretch";
import { gateBehindCancel } from "./gates";
import { judgedMoments, momentSeconds } from "./judgedMoments";
import { bleedTimes } from "./spectra";
import { chainWith, judgeTreatment, othersHeard } from "./treatments";
import { joined } from "../signal/joined";
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

/** Mics that cleaning is judged in: of shells that are played and hear somebody else. */
const judgedOf = (song: Song): Mic[] =>
  song.mics.filter((m) => isShell(m.piece) && !m.silent && !m.unplayed && othersHeard(song, m) > 0);

/** A moment of the kit that is to be cancelled; small enough to be handed to another thread. */
export interface MomentAsk {
  readonly song: Song;
  /** Song frame at which it begins; [mic][channel] as recorded. */
  readonly from: number;
  readonly stretch: readonly (readonly Float32Array[])[];
}

/** The mics that are judged, as cancelling in all shells leaves them. Shape  [mic that is judged][channel]. */
export function cancelledMoment({ song, from, stretch }: MomentAsk): Float32Array[][] {
  const all = {
    ...song,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map((p) => (p.type === "cancel" ? { ...p, on: isShell(m.piece) } : p)),
    })),
  };
  const cancelled = cancelStretch(all, stretch, from);
  return judgedOf(song).map((m) => cancelled[song.mics.indexOf(m)]!);
}

/** Moments one after another, of the mics that are judged, as recorded and as cancelling leaves them. Shape  by mic id, [channel]. */
export interface Digest {
  /** Song seconds at which the moments begin. */
  readonly starts: readonly number[];
  readonly plain: Readonly<Record<string, readonly Float32Array[]>>;
  readonly cancelled: Readonly<Record<string, readonly Float32Array[]>>;
}

/**
 * What cleaning is judged by. Shape  audio [mic][channel] as recorded, from the song's first frame on; `run`: does asks in any order,
 * answers in theirs.
 */
export async function digestKit(
  song: Song,
  audio: readonly (readonly Samples[])[],
  run: (asks: readonly MomentAsk[]) => Promise<Float32Array[][][]>,
): Promise<Digest> {
  const judged = judgedOf(song);
  const starts = judged.length === 0 ? [] : judgedMoments(song);
  const frames = Math.round(momentSeconds * song.sampleRate);
  // Copies: a view would take all of its mic to another thread.
  const cut = (x: Samples, from: number): Float32Array => stretchOf(x, from, frames).slice();
  const asks = starts.map((t): MomentAsk => {
    const from = Math.round(t * song.sampleRate);
    return { song, from, stretch: audio.map((channels) => channels.map((x) => cut(x, from))) };
  });
  const cancelled = await run(asks);
  const whole = (parts: (m: Mic, moment: number) => readonly Float32Array[]) =>
    Object.fromEntries(
      judged.map((m) => [
        m.id,
        Array.from({ length: m.channels }, (_, ch) => joined(starts.map((_t, n) => parts(m, n)[ch]!))),
      ]),
    );
  return {
    starts,
    plain: whole((m, n) => asks[n]!.stretch[song.mics.indexOf(m)]!),
    cancelled: whole((m, n) => cancelled[n]![judged.indexOf(m)]!),
  };
}

const doesGood = ({ strokesDb, ghosts, ghostsKept, bleedDb }: Verdict): boolean =>
  strokesDb >= -strokesLose &&
  ghostsKept >= Math.min(ghostsStay * ghosts, ghosts - 1) &&
  bleedDb <= -bleedLoses;

function choose({ song, facts, digest }: CleaningAsk, mic: Mic): CleaningChoice | null {
  const { hits, sampleRate } = song;
  const { starts, plain, cancelled } = digest;
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
      plain[mic.id]!,
      instants,
      opens,
      sampleRate,
      cancelled[mic.id]!,
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

/** A kit whose cleaning is judged; small enough to be handed to another thread. */
export interface CleaningAsk {
  readonly song: Song;
  readonly facts: Facts;
  readonly digest: Digest;
}

/**
 * What cleaning would do to every mic of a shell, measured on some moments of the song before it is proposed: the strongest way
 * that does good, and nothing where every way costs strokes or ghost notes, or takes no bleed.
 * Shape   by mic id; mics that hear nobody else, or whose drum is hardly struck, are left out.
 */
export function judgeKit(ask: CleaningAsk): Record<string, CleaningChoice> {
  const { song, facts, digest } = ask;
  if (digest.starts.length === 0) return {};
  return Object.fromEntries(
    judgedOf(song).flatMap((m) => {
      const choice = facts.levels[m.id] && choose(ask, m);
      return choice ? [[m.id, choice]] : [];
    }),
  );
}
