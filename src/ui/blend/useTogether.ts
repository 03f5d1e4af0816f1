import { useState, type MouseEvent } from "react";
import { ownersOf, type Owner } from "../../core/song/graph";
import type { Song } from "../../core/song/song";
import { rowsBetween } from "./together";

const none: ReadonlySet<string> = new Set();
/** What stands in a row to be worked with, beside its name. */
const controls = "input, select, .switches";

/** Rows of a table that were chosen together with the one on the bench; another one on the bench gives them up. */
export function useTogether(chosen: string) {
  const [state, setState] = useState({ of: chosen, ids: none });
  const ids = state.of === chosen ? state.ids : none;
  const isWith = (id: string): boolean => ids.has(id);
  /** True when a press chose rows to the one on the bench, or works with one of them, and puts no other on the bench. */
  const choosing = (event: MouseEvent, id: string, rows: readonly { readonly owner: Owner }[]): boolean => {
    const also = (more: readonly string[]) =>
      setState({ of: chosen, ids: new Set([...ids, chosen, ...more]) });
    if (event.shiftKey) also(rowsBetween(rows, chosen, id));
    else if ((event.ctrlKey || event.metaKey) && !ids.has(id)) also([id]);
    else if (event.ctrlKey || event.metaKey) {
      if (id !== chosen) setState({ of: chosen, ids: new Set([...ids].filter((x) => x !== id)) });
    } else if (!(ids.has(id) && (event.target as Element).closest(controls))) {
      setState({ of: id, ids: none });
      return false;
    }
    return true;
  };
  /** All that move with one; it alone where it was not chosen with others. */
  const together = (song: Song, owner: Owner): Owner[] =>
    ids.has(owner.id) ? ownersOf(song).filter((o) => ids.has(o.id)) : [owner];
  return { together, choosing, isWith };
}
