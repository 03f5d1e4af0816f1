import { stillFader } from "../song/levelMoves";
import { kitOver } from "../engine/kitOver";
import { gainToDb, median, peakOf, powerOf, powerToDb } from "../signal/level";
import { isDrum, type Piece, type Song } from "../song/song";

/** What a parallel path brings to the kit when its fader stands at 0 dB. */
export interface PathEffect {
  /** By drum: how much louder half of its strokes are at least, dB; over so many strokes. */
  readonly drums: readonly { readonly piece: Piece; readonly louderDb: number; readonly strokes: number }[];
  /** Change of the kit's peak, of its crest, and of what lies just before strokes against their first 120 ms, dB: the more that rises, the more it pumps or fills. */
  readonly peakDb: number;
  readonly crestDb: number;
  readonly betweenDb: number;
}

/** Heard of a stroke, and of what lies before the next one, s. */
const [heard, before] = [0.12, 0.06];
/** Fewer strokes say nothing of a drum. */
const fewest = 3;

/**
 * Measures the kit with and without a path over a stretch of the recording; what limits at its end is left out.
 * Shape   stretch [mic][channel] as recorded, from song frame `from` on. Errors  RangeError for a bus that is not there.
 */
export function pathEffect(
  song: Song,
  bus: string,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): PathEffect {
  if (!song.buses.some((b) => b.id === bus && b.output !== null))
    throw new RangeError(`the song has no path "${bus}"`);
  const bare = {
    ...song,
    buses: song.buses.map((b) => (b.output === null ? { ...b, chain: [], level: 0 } : b)),
  };
  const at = (values: object): Song => ({
    ...bare,
    buses: bare.buses.map((b) => (b.id === bus ? { ...b, ...stillFader, ...values } : b)),
  });
  const [off, on] = [at({ muted: true }), at({ muted: false, level: 0 })].map((s) =>
    kitOver(s, stretch, from),
  );
  const { sampleRate } = song;
  const frames = off![0]!.length;
  const levelIn = (kit: readonly Float32Array[], first: number, seconds: number) => {
    const begin = Math.max(0, Math.round(first));
    return powerToDb(
      kit.reduce((sum, x) => sum + powerOf(x.subarray(begin, begin + Math.round(seconds * sampleRate))), 0),
    );
  };
  const strokes = song.hits
    .filter((h) => !h.ghost)
    .map((h) => ({ piece: h.piece, frame: h.time * sampleRate - from }))
    .filter(({ frame }) => frame >= before * sampleRate && frame < frames - heard * sampleRate);
  const louder = (frame: number, seconds: number) =>
    levelIn(on!, frame, seconds) - levelIn(off!, frame, seconds);
  const drums = [...new Set(strokes.map((s) => s.piece))].filter(isDrum).flatMap((piece) => {
    const own = strokes.filter((s) => s.piece === piece);
    return own.length < fewest
      ? []
      : [{ piece, louderDb: median(own.map((s) => louder(s.frame, heard))), strokes: own.length }];
  });
  const peak = (kit: readonly Float32Array[]) => gainToDb(Math.max(...kit.map((x) => peakOf(x))));
  const power = (kit: readonly Float32Array[]) =>
    powerToDb(kit.reduce((sum, x) => sum + powerOf(x), 0) / kit.length);
  return {
    drums,
    peakDb: peak(on!) - peak(off!),
    crestDb: peak(on!) - power(on!) - (peak(off!) - power(off!)),
    betweenDb:
      median(strokes.map((s) => louder(s.frame - before * sampleRate, before))) -
      median(strokes.map((s) => louder(s.frame, heard))),
  };
}
