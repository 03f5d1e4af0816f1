import { processChain } from "../engine/processChain";
import { envelope } from "../shape/hitReductions";
import type { Song } from "../song/song";
import { bleedAlongChain, type BleedStage } from "./bleedLift";
import { cancelStretch, withCancelOf } from "./cancelStretch";
import { bleedTimes } from "./spectra";
import type { Treatment, Verdict } from "../facts/treatment";
import { chainWith, judgeTreatment } from "./treatments";

export interface WaysAsk {
  readonly song: Song;
  readonly mic: string;
  readonly ways: readonly Treatment[];
  /** Song frame at which the stretch begins; [mic][channel] as recorded. */
  readonly from: number;
  readonly stretch: readonly (readonly Float32Array[])[];
}
export interface WaysAnswer {
  /** One a way. */
  readonly verdicts: readonly Verdict[];
  /** The mic without cleaning. */
  readonly plain: Verdict;
  /** Average main stroke before and after the mic's cleaning as it is set, dBFS at `envelopeTimesMs`. */
  readonly envelopes: { readonly before: readonly number[]; readonly after: readonly number[] };
  /** Bleed against strokes behind every processor of the mic as it stands. */
  readonly along: readonly BleedStage[] | null;
}

/** What ways to clean a mic do over a stretch of the song, and what its chain does to the bleed now. */
export function judgeWays({ song, mic: id, ways, from, stretch }: WaysAsk): WaysAnswer {
  const { sampleRate } = song;
  const at = song.mics.findIndex((m) => m.id === id);
  const mic = song.mics[at]!;
  const input = stretch[at]!;
  const cancels = ways.some((w) => w.cancel);
  const cancelled = cancels ? cancelStretch(withCancelOf(song, id, true), stretch, from)[at]! : input;
  const frame = (t: number) => t * sampleRate + mic.lateBy - from;
  const within = (f: number) => f >= 0 && f < input[0]!.length;
  const own = song.hits.filter((h) => h.piece === mic.piece);
  const frames = (list: readonly number[]) => list.map(frame).filter(within);
  const mains = frames(own.filter((h) => !h.ghost).map((h) => h.time));
  const ghosts = frames(own.filter((h) => h.ghost).map((h) => h.time));
  const bleed = frames(bleedTimes(song.hits, mic.piece));
  const hits = Float64Array.from(frames(own.map((h) => h.time))).sort();
  const instants = { mains, ghosts, bleed };
  const set = mic.chain.filter((p) => p.on && ["trim", "gate", "dynamicEq"].includes(p.type));
  const on = mic.chain.some((p) => p.type === "cancel" && p.on);
  const after = processChain(set, on ? cancelled : input, sampleRate, Float64Array.from(hits))[0]!;
  const before = processChain(
    set.filter((p) => p.type === "trim"),
    input,
    sampleRate,
  )[0]!;
  return {
    plain: judgeTreatment(
      mic.chain.filter((p) => p.type === "trim"),
      input,
      instants,
      hits,
      sampleRate,
    ),
    envelopes: { before: envelope(before, mains, sampleRate), after: envelope(after, mains, sampleRate) },
    verdicts: ways.map((w) =>
      judgeTreatment(chainWith(mic, w), input, instants, hits, sampleRate, w.cancel ? cancelled : input),
    ),
    along: bleedAlongChain(mic.chain, input, mains, hits, bleed, sampleRate, cancels ? cancelled : null),
  };
}
