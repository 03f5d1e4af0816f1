import { timesOf } from "../hits/times";
import { anyBetween } from "../signal/ascending";
import { cancelStretch } from "./cancelStretch";
import { processChain } from "../engine/processChain";
import { spreadOver } from "../hits/snippets";
import { panGains } from "../measure/panGains";
import { observes } from "../bleed/observers";
import { designButterworth, filtered } from "../signal/biquad";
import { median } from "../signal/level";
import { processorOf, usualPan } from "../song/create";
import { isKitMic, isShell, type Hit, type Mic, type Piece, type Song } from "../song/song";
import type { Samples } from "../signal/samples";

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
  /** With all close mics, not cleaned and cleaned. */
  readonly before: number;
  readonly after: number;
}

/** Strokes at which cymbals are looked at, spread over the song: as far as possible those that fall on no shell's. */
export function cymbalStrokes(hits: readonly Hit[]): Hit[] {
  const shells = timesOf(hits.filter((h) => isShell(h.piece) && !h.ghost));
  return cymbals.flatMap((piece) => {
    const own = hits.filter((h) => h.piece === piece && h.time > readBefore);
    const clear = own.filter((h) => !anyBetween(shells, h.time - clearOf, h.time + clearOf));
    const used = clear.length >= 3 ? clear : own;
    return spreadOver(used, strokesEach);
  });
}

/** Position from the high energy of both sides. */
function positionOf(
  left: Float32Array,
  right: Float32Array,
  sampleRate: number,
  before = readBefore,
): number {
  const high = designButterworth("high", heardAbove, 2, sampleRate);
  const from = Math.round(before * sampleRate);
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
 * Where hat, ride and crash sit between left and right at one of their strokes: in the overheads alone, with all close
 * mics as they are placed, and with their cleaning. Rooms are left out: they hear the kit from elsewhere.
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
    .filter(({ mic }) => isKitMic(song, mic) && observes(mic));
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

/** What is read before and behind a stroke to place a cymbal in the overheads, s. */
const panBefore = 0.02;
const panAfter = 0.07;
const fewestStrokes = 3;

/**
 * Pan in % at which a cymbal's own mic sits where the overheads put the cymbal, by mic id; and of toms that the overheads have on the
 * other side than toms usually are. Only where two sides of overheads are known and the drum is struck often enough.
 * Source  the pan's law has left and right as cosine and sine, whose difference over their sum is the tangent of the way
 *         from the middle.
 * Shape   audio per mic and channel from the song's first frame on; gains: by mic id, dB, what makes the overheads a pair (pairGains).
 */
export function pansByOverheads(
  mics: readonly Mic[],
  audio: readonly (readonly Samples[])[],
  hits: readonly Hit[],
  sampleRate: number,
  gains: Readonly<Record<string, number>> = {},
): Record<string, number> {
  const overheads = mics.flatMap((mic, i) =>
    mic.piece === "overhead" && !mic.silent
      ? [{ mic: { ...mic, level: mic.level + (gains[mic.id] ?? 0) }, channels: audio[i]! }]
      : [],
  );
  if (overheads.reduce((sum, o) => sum + o.channels.length, 0) < 2) return {};
  const frames = Math.round((panBefore + panAfter) * sampleRate);
  /** Where strokes sit in the overheads, in the middle over them; null: too few. */
  const placeOf = (strokes: readonly Hit[]): number | null => {
    if (strokes.length < fewestStrokes) return null;
    const places = strokes.map(({ time }) => {
      const from = Math.max(0, Math.round((time - panBefore) * sampleRate));
      const near = overheads.map((o) => ({
        mic: o.mic,
        channels: o.channels.map((x) => x.subarray(from, from + frames)),
      }));
      return positionOf(...mixed(near, frames), sampleRate, panBefore);
    });
    return median(places);
  };
  const used = mics.filter((m) => !m.silent && !m.unplayed);
  const strokes = cymbalStrokes(hits);
  const own = used
    .filter((m) => cymbals.includes(m.piece))
    .flatMap((m): [string, number][] => {
      const place = placeOf(strokes.filter((h) => h.piece === m.piece));
      return place === null ? [] : [[m.id, Math.round((400 / Math.PI) * Math.atan(place))]];
    });
  return Object.fromEntries([...own, ...turnedToms(used, (piece) => placeOf(tomStrokes(hits, piece)))]);
}

/** Toms that sit so far on the other side than usual, together, are miked as the drummer sees them. */
const turnedFrom = 0.1;

/** Strokes of a tom that fall on no other shell's, spread over the song. */
function tomStrokes(hits: readonly Hit[], piece: Piece): Hit[] {
  const others = timesOf(hits.filter((h) => isShell(h.piece) && h.piece !== piece));
  const own = hits.filter(
    (h) => h.piece === piece && !h.ghost && !anyBetween(others, h.time - clearOf, h.time + clearOf),
  );
  return spreadOver(own, strokesEach);
}

/** Pans of toms on the side where the overheads have them, when that is not the side that toms usually are on. */
function turnedToms(mics: readonly Mic[], placeOf: (piece: Piece) => number | null): [string, number][] {
  const toms = mics.filter((m) => isShell(m.piece) && usualPan(m) !== 0 && m.place === "close");
  const sides = [...new Set(toms.map((m) => m.piece))].flatMap((piece) => {
    const place = placeOf(piece);
    return place === null ? [] : [place * Math.sign(usualPan(toms.find((m) => m.piece === piece)!))];
  });
  const turned = sides.length > 0 && sides.reduce((sum, v) => sum + v, 0) / sides.length < -turnedFrom;
  return turned ? toms.map((m) => [m.id, -usualPan(m)]) : [];
}
