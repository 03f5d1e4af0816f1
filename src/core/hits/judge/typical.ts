import { quantile } from "../../signal/level";
import type { Explained, Source } from "./explained";

/** A drum this far under its loud strokes leads no instant, dB. */
const leads = -30;
/** Instants from which a group tells what is usual in it, and the least spread that is believed, dB. */
const fewest = 12;
const leastSpread = 0.7;

/**
 * What is usual in a source's own row while another drum leads: how much the kick's bleed into the snare's mic differs from stroke to
 * stroke is told by the kick's strokes themselves. A ghost note under a kick is small against the kick and large against that.
 */
export class Typical {
  /** By instant: the other piece that is loudest against its own loud strokes; -1: none is struck. */
  private readonly leader: Int8Array;

  constructor(prints: Explained, source: Source) {
    this.leader = Int8Array.from(prints.instants, (_, i) => {
      let best = -1;
      let loudest = leads;
      prints.pieces.forEach((piece, p) => {
        const here = piece === source ? -Infinity : prints.relative(i, p);
        if (here > loudest) [best, loudest] = [p, here];
      });
      return best;
    });
  }

  /**
   * Writes by how many times the usual spread (between the quarters) values lie over the middle of their group.
   * Shape   features a row an instant, none for some; `from` is read, `into` is written.
   */
  fill(features: readonly Float64Array[], values: readonly { from: number; into: number }[]): void {
    for (const group of new Set(this.leader)) {
      const rows = features.filter((f, i) => f.length > 0 && this.leader[i] === group);
      if (rows.length < fewest) continue;
      for (const { from, into } of values) {
        const list = rows.map((f) => f[from]!);
        const middle = quantile(list, 0.5);
        const spread = Math.max(leastSpread, quantile(list, 0.75) - quantile(list, 0.25));
        for (const f of rows) f[into] = Math.max(-4, Math.min(12, (f[from]! - middle) / spread));
      }
    }
  }
}
