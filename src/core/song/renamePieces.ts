import { pieceNames } from "./pieceNames";
import type { Bus, HeardDrums, HitCorrection, MicLabel, Piece, Song } from "./song";

/** New names of drums by their old ones; the others keep theirs. */
export type PieceNames = Readonly<Partial<Record<Piece, Piece>>>;

const mapKeys = <T>(record: Readonly<Partial<Record<Piece, T>>>, rename: (p: Piece) => Piece) =>
  Object.fromEntries(Object.entries(record).map(([p, v]) => [rename(p as Piece), v])) as Partial<
    Record<Piece, T>
  >;

const mapValues = <T>(record: Readonly<Record<string, T>>, change: (value: T) => T): Record<string, T> =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [key, change(value)]));

function renamedCorrection(c: HitCorrection, rename: (p: Piece) => Piece): HitCorrection {
  const hit = "hit" in c ? { hit: { ...c.hit, piece: rename(c.hit.piece) } } : {};
  return { ...c, ...("piece" in c ? { piece: rename(c.piece) } : {}), ...hit } as HitCorrection;
}

/** The bus of a drum; its name goes along unless somebody has chosen it. */
const renamedBus = (bus: Bus, piece: Piece): Bus => ({
  ...bus,
  piece,
  name: bus.name === pieceNames[bus.piece!] ? pieceNames[piece] : bus.name,
});

/** The names that undo others. Errors: RangeError when two drums would get one name. */
export function reversedNames(names: PieceNames): PieceNames {
  const pairs = Object.entries(names) as [Piece, Piece][];
  if (new Set(pairs.map(([, to]) => to)).size < pairs.length)
    throw new RangeError("two drums cannot get one name");
  return Object.fromEntries(pairs.map(([from, to]) => [to, from]));
}

/**
 * Names for every drum: one whose name is taken and that gives none up gets the one that became free, so that what was set for a
 * drum that is not there stays apart from it, and the reversed names lead back exactly.
 */
function everyName(names: PieceNames): (p: Piece) => Piece {
  const back = reversedNames(names);
  const all: Partial<Record<Piece, Piece>> = { ...names };
  for (const end of Object.keys(back) as Piece[]) {
    if (names[end]) continue;
    let start = end;
    while (back[start]) start = back[start]!;
    all[end] = start;
  }
  return (p) => all[p] ?? p;
}

/**
 * A song in which drums are called otherwise: their strokes, corrections, sensitivity, what the mics hear of them, where they stand
 * and how they are tightened go along.
 * Errors  RangeError when a name is still another drum's.
 */
export function renamePieces(song: Song, names: PieceNames): Song {
  const gone = reversedNames(names);
  const taken = song.hits.find((h) => gone[h.piece] && !names[h.piece]);
  if (taken) throw new RangeError(`there are strokes of another ${taken.piece} already`);
  const rename = everyName(names);
  const { detection, heardAs, plan, tighten } = song;
  const heard = (h: HeardDrums): HeardDrums => ({ ...h, drums: mapKeys(h.drums, rename) });
  const relabelled = (l: MicLabel): MicLabel => ({ ...l, piece: rename(l.piece) });
  return {
    ...song,
    buses: song.buses.map((b) => (b.piece ? renamedBus(b, rename(b.piece)) : b)),
    hits: song.hits.map((h) => (names[h.piece] ? { ...h, piece: rename(h.piece) } : h)),
    bleed: mapValues(song.bleed, (list) => list.map(heard)),
    detection: {
      sensitivity: mapKeys(detection.sensitivity, rename),
      corrections: detection.corrections.map((c) => renamedCorrection(c, rename)),
    },
    plan: { ...plan, places: mapKeys(plan.places, rename) },
    tighten: {
      ...tighten,
      leaders: tighten.leaders.map(rename),
      byPiece: mapKeys(tighten.byPiece, rename),
      alone: tighten.alone.map(rename),
    },
    ...(heardAs ? { heardAs: mapValues(heardAs, relabelled) } : {}),
  };
}
