import { processorOf, usualPan } from "./create";
import { applyAll, type Operation } from "./operations";
import { routeByLabel } from "./routes";
import type { PieceNames } from "./renamePieces";
import { isDrum, mainMic, pieces, type Mic, type MicLabel, type Piece, type Song } from "./song";

/**
 * Operations that follow a mic's new label beyond the label itself: its pan, as long as it is still where the old label put
 * it, so that nobody has set it by hand.
 */
export function followLabel(mic: Mic, label: Partial<MicLabel>): Operation[] {
  const pan = processorOf(mic, "pan");
  const [now, wanted] = [pan.params["position"], usualPan({ ...mic, ...label })];
  if (now !== usualPan(mic) || now === wanted) return [];
  return [{ op: "setProcessor", owner: mic.id, processor: pan.id, params: { position: wanted } }];
}

/** By mic id. */
export type MicLabels = Readonly<Record<string, MicLabel>>;

export const labelsOf = (mics: readonly Mic[]): MicLabels =>
  Object.fromEntries(mics.map(({ id, piece, place }) => [id, { piece, place }]));

type Judged = Pick<Mic, "id" | "silent"> & MicLabel;

/** Pieces that tell nothing of the kit's strokes: impulse responses, one-shots and layers, other music. */
const mute: readonly Piece[] = ["response", "sample", "context"];

/**
 * Drums that are only called otherwise under new labels, so that what was found of them stays true; null where it must be
 * found anew: a drum has another main mic, a mic belongs to another drum or to none, the overheads are others.
 * Shape   mics as labelled now; `heardAs`: their labels when the strokes were found; `struck`: drums that have strokes.
 */
export function renamed(
  all: readonly Judged[],
  allHeardAs: MicLabels,
  struck: ReadonlySet<Piece>,
): PieceNames | null {
  // What tells nothing of the kit may come and go.
  const tells = ({ piece }: { readonly piece: Piece } = { piece: "response" }) => !mute.includes(piece);
  const mics = all.filter((m) => tells(m) || tells(allHeardAs[m.id]));
  const heardAs = Object.fromEntries(
    Object.entries(allHeardAs).filter(([id, was]) => tells(was) || mics.some((m) => m.id === id)),
  );
  if (mics.some((m) => !heardAs[m.id]) || Object.keys(heardAs).length > mics.length) return null;
  const before = mics.map((m) => ({ ...m, ...heardAs[m.id]! }));
  const names: Partial<Record<Piece, Piece>> = {};
  for (const piece of pieces.filter(isDrum)) {
    const main = mainMic(before, piece);
    const now = main && mics.find((m) => m.id === main.id)!;
    if (now && (!isDrum(now.piece) || mainMic(mics, now.piece) !== now)) return null;
    if (now && now.piece !== piece) names[piece] = now.piece;
  }
  const stays = before.every((b, i) => (names[b.piece] ?? b.piece) === mics[i]!.piece);
  // Strokes that the overheads tell of have no mic that could take them along.
  const clashes = Object.values(names).some((to) => struck.has(to) && !mainMic(before, to));
  return stays && !clashes ? names : null;
}

const struckIn = ({ hits }: Pick<Song, "hits">): ReadonlySet<Piece> => new Set(hits.map((h) => h.piece));

/** True when strokes and bleed were found by other labels, and are not the same under new names. */
export const isHeardOtherwise = (song: Song): boolean =>
  song.heardAs !== undefined && renamed(song.mics, song.heardAs, struckIn(song)) === null;

/** Operations that label mics by hand: pan, the bus it goes to, strokes, bleed and what was set for a drum follow, as far as they stay true. */
export function relabel(song: Song, ids: readonly string[], label: Partial<MicLabel>): Operation[] {
  const own = song.mics
    // A layer is what its drum makes it.
    .filter((m) => ids.includes(m.id) && !m.layer)
    .flatMap((m): Operation[] => [
      ...followLabel(m, label),
      { op: "setMic", mic: m.id, values: { ...label, sure: 1 } },
    ]);
  const called = [...own, ...namesFor(song, applyAll(song, own).mics)];
  return [...called, ...routeByLabel(song, applyAll(song, called))];
}

/** Drums that are only called otherwise keep what was found of them. */
function namesFor(song: Song, mics: readonly Mic[]): Operation[] {
  if (song.hits.length === 0) return [];
  const names = renamed(mics, song.heardAs ?? labelsOf(song.mics), struckIn(song)) ?? {};
  return Object.keys(names).length === 0 ? [] : [{ op: "renamePieces", names }];
}
