import { cancelStretch } from "./cancelStretch";
import { processChain } from "../engine/processChain";
import { panGains } from "../measure/panGains";
import { designButterworth, filtered } from "../signal/biquad";
import { median } from "../signal/level";
import { processorOf } from "../song/create";
import { isKitMic, isShell, type Hit, type Mic, type Piece, type Song } from "../song/song";

/** Cymbals whose place is asked for. */
const cymbals: readonly Piece[] = ["hat", "ride", "crash"];
/** Above this they are heard, Hz. */
const heardAbove = 3000;
/** Strokes of a cymbal that are looked at, and how near none of a shell may be, s. */
const strokesEach = 12;
const clearOf = 0.05;
/** What is read before a stroke, so that gates stand as they do in the song, and after it, s. */
export const readBefore = 0.8;
export const readAfter = 0.07;
/** What cleaning consists of. */
const cleaning: readonly string[] = ["gate", "dynamicEq"];
const placing: readonly string[] = ["delay", "polarity", "rotation", "trim"];

/** Where a cymbal sits, -1 left to 1 right, over some strokes. */
export interface CymbalPlace {
  readonly piece: Piece;
  readonly strokes: number;
  /** In the overheads alone. */
  readonly overheads: number;
  /** In all mics, not cleaned and cleaned. */
  readonly before: number;
  readonly after: number;
}

/** Strokes at which cymbals are looked at, spread over the song: as far as possible those that fall on no shell's. */
export function cymbalStrokes(hits: readonly Hit[]): Hit[] {
  const shells = hits.filter((h) => isShell(h.piece) && !h.ghost).map((h) => h.time);
  return cymbals.flatMap((piece) => {
    const own = hits.filter((h) => h.piece === piece && h.time > readBefore);
    const clear = own.filter((h) => !shells.some((t) => Math.abs(t - h.time) < clearOf));
    const used = clear.length >= 3 ? clear : own;
    const every = Math.max(1, used.length / strokesEach);
    return Array.from({ length: Math.min(strokesEach, used.length) }, (_, i) => used[Math.floor(i * every)]!);
  });
}

/** Position from the high energy of both sides. */
function positionOf(left: Float32Array, right: Float32Array, sampleRate: number): number {
  const high = designButterworth("high", heardAbove, 2, sampleRate);
  const from = Math.round(readBefore * sampleRate);
  const level = (x: Float32Array) =>
    Math.sqrt(
      filtered(x, high)
        .subarray(from)
        .reduce((s, v) => s + v * v, 0),
    );
  const [l, r] = [level(left), level(right)];
  return l + r > 0 ? (r - l) / (r + l) : 0;
}

/** Left and right of some mics' sum. */
function mixed(
  parts: readonly { mic: Mic; channels: readonly Float32Array[] }[],
  frames: number,
): [Float32Array, Float32Array] {
  const out: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)];
  for (const { mic, channels } of parts.filter((p) => !p.mic.muted))
    channels.forEach((x, ch) => {
      const gains = panGains(mic, ch, mic.level);
      for (let side = 0; side < 2; side++)
        for (let i = 0; i < frames; i++) out[side]![i]! += gains[side]! * x[i]!;
    });
  return out;
}

/**
 * Where hat, ride and crash sit between left and right at one of their strokes: in the overheads alone, in all mics as
 * they are placed, and with their cleaning.
 * Shape   stretch [mic][channel] from `readBefore` before the stroke to `readAfter` behind it.
 */
export function placeAtStroke(
  song: Song,
  stroke: Hit,
  stretch: readonly (readonly Float32Array[])[],
): Pick<CymbalPlace, "overheads" | "before" | "after"> {
  const { sampleRate } = song;
  const frames = stretch[0]![0]!.length;
  const first = (stroke.time - readBefore) * sampleRate;
  const kit = song.mics
    .map((mic, at) => ({ mic, at }))
    .filter(({ mic }) => isKitMic(song, mic) && !mic.silent);
  const through = (types: readonly string[], audio = stretch) =>
    kit.map(({ mic, at }) => {
      const channels = audio[at]!;
      const chain = mic.chain.filter((p) => p.on && types.includes(p.type));
      const delay = processorOf(mic, "delay").params["delay"] as number;
      const hits = Float64Array.from(
        song.hits
          .filter((h) => h.piece === mic.piece)
          .map((h) => h.time * sampleRate - first + mic.lateBy + delay),
      );
      return { mic, channels: processChain(chain, channels, sampleRate, hits) };
    });
  const placed = through(placing);
  const sits = (parts: typeof placed) => positionOf(...mixed(parts, frames), sampleRate);
  return {
    overheads: sits(placed.filter(({ mic }) => mic.piece === "overhead")),
    before: sits(placed),
    after: sits(through([...placing, ...cleaning], cancelStretch(song, stretch, Math.round(first)))),
  };
}

/** The middle over the strokes of each cymbal. */
export const cymbalPlaces = (
  found: readonly { piece: Piece; place: Pick<CymbalPlace, "overheads" | "before" | "after"> }[],
): CymbalPlace[] =>
  cymbals.flatMap((piece) => {
    const own = found.filter((f) => f.piece === piece).map((f) => f.place);
    if (own.length === 0) return [];
    const middle = (of: "overheads" | "before" | "after") => median(own.map((p) => p[of]));
    return [
      {
        piece,
        strokes: own.length,
        overheads: middle("overheads"),
        before: middle("before"),
        after: middle("after"),
      },
    ];
  });
