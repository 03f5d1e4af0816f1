import { pieces, placeOrder, type Mic, type Piece, type Song } from "./song";

const byName = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** The drum that a mic hears, or a layer doubles. */
export const drumOf = ({ piece, layer }: Pick<Mic, "piece" | "layer">): Piece => layer?.drum ?? piece;

/**
 * Mics as an engineer reads a kit: kick, snare, toms, cymbals, overheads, rooms, then the rest; of a drum its main mic first, its layers last; what is
 * alike by name, "Tom 2" before "Tom 10". The order in which files came in tells nothing.
 */
export const inKitOrder = <M extends Pick<Mic, "piece" | "place" | "file" | "layer">>(
  mics: readonly M[],
): M[] =>
  [...mics].sort(
    (a, b) =>
      pieces.indexOf(drumOf(a)) - pieces.indexOf(drumOf(b)) ||
      Number(a.layer !== undefined) - Number(b.layer !== undefined) ||
      placeOrder.indexOf(a.place) - placeOrder.indexOf(b.place) ||
      byName.compare(a.file, b.file),
  );

/** The mics of a drum in that order; none for no drum. */
export const micsOf = ({ mics }: Pick<Song, "mics">, piece: Piece | null): Mic[] =>
  inKitOrder(mics.filter((m) => m.piece === piece));
