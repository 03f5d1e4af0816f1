import { quantile } from "../../signal/level";
import type { Explained, Source } from "./explained";

/** A drum this far under its loud strokes leads no instant, dB. */
const leads = -30;
/** Instants from which a group tells what is usual in it, and the least spread that is believed, dB. */
const fewest = 12;
const leastSpread = 0.7;

/** By instant: index of the other piece that is loudest against its own loud strokes; -1: none is struck. */
const leadersOf = (prints: Explained, source: Source): number[] =>
  Array.from({ length: prints.count }, (_, i) => {
    let best = -1;
    let loudest = leads;
    prints.pieces.forEach((piece, p) => {
      if (piece === source || prints.relative(i, p) <= loudest) return;
      [best, loudest] = [p, prints.relative(i, p)];
    });
    return best;
  });

/**
 * Writes how far values stand out of what is usual in a source's own row while another drum leads, in times the usual spread
 * (between the quarters) over the middle. How much a kick's bleed into the snare's mic differs from stroke to stroke is told by the
 * kick's strokes themselves: a ghost note under a kick is small against the kick and large against that.
 * Shape   features a row an instant, none for some; of `values`, `from` is read and `into` written.
 */
export function markStanding(
  prints: Explained,
  source: Source,
  features: readonly Float64Array[],
  values: readonly { readonly from: number; readonly into: number }[],
): void {
  const leaders = leadersOf(prints, source);
  for (const leader of new Set(leaders)) {
    const rows = features.filter((f, i) => f.length > 0 && leaders[i] === leader);
    if (rows.length < fewest) continue;
    for (const { from, into } of values) {
      const list = rows.map((f) => f[from]!);
      const middle = quantile(list, 0.5);
      const spread = Math.max(leastSpread, quantile(list, 0.75) - quantile(list, 0.25));
      for (const f of rows) f[into] = Math.max(-4, Math.min(12, (f[from]! - middle) / spread));
    }
  }
}
