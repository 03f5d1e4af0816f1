import type { HeardDrums, HitCorrection, Piece, Song } from "./song";

/** New names of drums by their old ones; the others keep theirs. */
export type PieceNames = Readonly<Partial<Record<Piece, Piece>>>;

const mapKeys = <T>(record: Readonly<Partial<Record<Piece, T>>>, rename: (p: Piece) => Piece) =>
  Object.fromEntries(Object.entries(record).map(([p, v]) => [rename(p as Piece), v])) as Partial<
    Record<Piece, T>
  >;

function renamedCorrection(c: HitCorrection, rename: (p: Piece) => Piece): HitCorrection {
  const hit = "hit" in c ? { hit: { ...c.hit, piece: rename(c.hit.piece) } } : {};
  return { ...c, ...("piece" in c ? { piece: rename(c.piece) } : {}), ...hit } as HitCorrection;
}

/** The names that undo others. Errors: RangeError when two drums would get one name. */
export function reversedNames(names: PieceNames): PieceNames {
  const pairs = Object.entries(names) as [Piece, Piece][];
  if (new Set(pairs.map(([, to]) => to)).size < pairs.length)
    throw new RangeError("two drums cannot get one name");
  return Object.fromEntries(pairs.map(([from, to]) => [to, from]));
}

/**
 * A song in which drums are called otherwise: their strokes, corrections, sensitivity, what the mics hear of them and how they
 * are tightened go along.
 * Errors  RangeError when a name is still another drum's.
 */
export function renamePieces(song: Song, names: PieceNames): Song {
  const gone = reversedNames(names);
  const rename = (p: Piece): Piece => names[p] ?? p;
  const taken = song.hits.find((h) => gone[h.piece] && !names[h.piece]);
  if (taken) throw new RangeError(`there are strokes of another ${taken.piece} already`);
  const { detection, tighten } = song;
  const heard = (h: HeardDrums): HeardDrums => ({ ...h, drums: mapKeys(h.drums, rename) });
  return {
    ...song,
    hits: song.hits.map((h) => (names[h.piece] ? { ...h, piece: rename(h.piece) } : h)),
    bleed: Object.fromEntries(Object.entries(song.bleed).map(([mic, list]) => [mic, list.map(heard)])),
    detection: {
      sensitivity: mapKeys(detection.sensitivity, rename),
      corrections: detection.corrections.map((c) => renamedCorrection(c, rename)),
    },
    tighten: {
      ...tighten,
      byPiece: mapKeys(tighten.byPiece, rename),
      alone: tighten.alone.map(rename),
    },
    ...(song.heardAs
      ? {
          heardAs: Object.fromEntries(
            Object.entries(song.heardAs).map(([mic, l]) => [mic, { ...l, piece: rename(l.piece) }]),
          ),
        }
      : {}),
  };
}
