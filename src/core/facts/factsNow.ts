import { renamed } from "../song/relabel";
import type { Piece, Song } from "../song/song";
import type { Facts } from "./facts";

/** Drums that have strokes of their own mic or of the overheads, as the facts call them. */
const known = (facts: Facts): ReadonlySet<Piece> => new Set(Object.values(facts.events).map((e) => e.piece));

/** Facts with drums called as the song calls them now; unchanged where labels were changed beyond a new name. */
export function factsNow(song: Pick<Song, "mics">, facts: Facts): Facts {
  const names = renamed(song.mics, facts.labels, known(facts)) ?? {};
  if (Object.keys(names).length === 0) return facts;
  const rename = (p: Piece): Piece => names[p] ?? p;
  return {
    ...facts,
    events: Object.fromEntries(
      Object.values(facts.events).map((e) => [rename(e.piece), { ...e, piece: rename(e.piece) }]),
    ),
    arrivals: Object.fromEntries(
      Object.entries(facts.arrivals).map(([id, list]) => [
        id,
        list.map((a) => ({ ...a, piece: rename(a.piece) })),
      ]),
    ),
  };
}

/** Mics whose label is another than that by which their facts were measured, by id. */
export const relabelledSince = (song: Pick<Song, "mics">, facts: Facts): string[] =>
  song.mics.flatMap((m) => {
    const was = facts.labels[m.id];
    return was && (was.piece !== m.piece || was.place !== m.place) ? [m.id] : [];
  });
