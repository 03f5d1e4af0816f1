import { flag, list, object, oneOf, orNull, record, whole, within, type Check } from "../schema";
import { limits } from "../song/limits";
import { id, label, paramValues, piece } from "../song/schema";
import { noFacts, type Facts } from "./facts";

/** Any figure; what is endless, as the level of silence, is told as null by JSON. */
const figure: Check = orNull(within(-1e9, 1e9));
const count = whole(0, 1e9);
const sign: Check = (value, path) => {
  if (value !== 1 && value !== -1)
    throw new RangeError(`${path} is ${JSON.stringify(value)}; it must be 1 or -1`);
};
const ofMics = (item: Check): Check => record(id, item, 4 * limits.mics);
const figures = (...names: string[]): Record<string, Check> =>
  Object.fromEntries(names.map((n) => [n, figure]));
const levels = list(figure, limits.hits);
const opening = object(figures("hold", "release"));

const bandChange = object(figures("weight", "box", "stick", "air"));
const shaped = object({
  eq: paramValues,
  changed: bandChange,
  compressor: orNull(
    object(figures("threshold", "ratio", "attack", "release", "makeup", "reductionDb", "lowered")),
  ),
  rounding: orNull(object(figures("drive", "output", "peakDb", "lowered"))),
  stroke: object({ before: levels, after: levels }),
  strokes: figure,
});

/** Every kind of fact, as the analysis stores it. */
const kinds: Readonly<Record<keyof Facts, Check>> = {
  pairs: ofMics(
    object({
      polarity: sign,
      thin: flag,
      ...figures("delaySamples", "confidence", "gainDb", "strokes", "driftPpm"),
    }),
  ),
  faults: ofMics(
    object({ clips: object({ count, times: list(figure, 1000) }), ...figures("noiseDb", "dc") }),
  ),
  drift: ofMics(figure),
  rotation: ofMics(object(figures("frequency", "q", "gainDb"))),
  levels: ofMics(object({ hits: levels, ghosts: levels, bleed: levels })),
  tails: ofMics(
    object({
      low: opening,
      high: opening,
      whole: opening,
      ...figures("corner", "wholeAfter", "errorBefore", "errorAfter", "strokes"),
    }),
  ),
  tone: ofMics(object(figures("fundamental", "ring", "ringDb"))),
  rings: ofMics(object(figures("frequency", "found", "tamed", "wanted", "strokes"))),
  lowEnds: ofMics(object(figures("below", "spread", "spreadAbove", "held", "threshold", "strokes"))),
  shapes: ofMics(object({ modern: shaped, vintage: shaped, natural: shaped })),
  arrivals: ofMics(
    list(object({ piece, polarity: sign, ...figures("channel", "delaySamples", "confidence") }), 200),
  ),
  pans: ofMics(figure),
  heardStrokes: ofMics(object({ heard: record(piece, figure, 20), together: figure })),
  loudness: ofMics(figure),
  layers: ofMics(object({ times: levels, strays: levels, delay: figure })),
  cleaning: ofMics(
    object({
      way: oneOf(["gated", "cancelled", "none"]),
      verdict: object(figures("bleedDb", "strokesDb", "ghostsKept", "ghosts", "sustainDb", "decay")),
    }),
  ),
  labels: ofMics(label),
  events: record(
    piece,
    object({
      piece,
      events: list(object(figures("time", "levelDb", "peakDb", "brightness", "excess")), limits.hits),
    }),
    20,
  ),
};

/**
 * Reads what an analysis stored beside a song, as an archive holds it. `newest`: the song is of today's format; facts of former
 * ones may differ, and kinds that do are left out, to be measured anew.
 * Errors  TypeError or RangeError that names the kind, where in it, and what is allowed.
 */
export function readFacts(json: unknown, newest: boolean): Facts | null {
  if (json === null || json === undefined) return null;
  if (typeof json !== "object" || Array.isArray(json)) throw new TypeError("the facts are no object");
  const facts: Record<string, unknown> = { ...noFacts };
  for (const [kind, value] of Object.entries(json)) {
    const check = Object.hasOwn(kinds, kind) ? kinds[kind as keyof Facts] : undefined;
    try {
      if (!check) throw new TypeError(`the facts hold an unknown kind "${kind}"`);
      check(value, `the facts.${kind}`);
      facts[kind] = value;
    } catch (error) {
      if (newest) throw error;
    }
  }
  return facts as unknown as Facts;
}
