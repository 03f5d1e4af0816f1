import { inKitOrder } from "../../core/song/kitOrder";
import { isMic, kitOf, type Owner } from "../../core/song/graph";
import type { Song } from "../../core/song/song";

/** A row of the mix: who, how deep below the kit, and the colour of its piece. */
export interface MixRow {
  readonly owner: Owner;
  readonly depth: number;
}

/** Mics and buses as a tree: what goes to a bus stands under it, mics in the order of the kit, the kit itself on top. */
export function mixRows(song: Song): MixRow[] {
  const under = (id: string, depth: number): MixRow[] =>
    [
      ...song.buses.filter((b) => b.output === id),
      ...inKitOrder(song.mics.filter((m) => m.output === id)),
    ].flatMap((owner) => [{ owner, depth }, ...(isMic(owner) ? [] : under(owner.id, depth + 1))]);
  const kit = kitOf(song);
  return [{ owner: kit, depth: 0 }, ...under(kit.id, 1)];
}

/** Rows that are not folded away under a bus, and the buses that have rows under them. */
export function unfolded(
  rows: readonly MixRow[],
  folded: ReadonlySet<string>,
): { shown: MixRow[]; hides: Set<string> } {
  const shown: MixRow[] = [];
  const hides = new Set<string>();
  /** Depth of the folded bus under which rows are left out. */
  let under = Infinity;
  rows.forEach((row, i) => {
    if ((rows[i + 1]?.depth ?? -1) > row.depth) hides.add(row.owner.id);
    if (row.depth > under) return;
    under = folded.has(row.owner.id) ? row.depth : Infinity;
    shown.push(row);
  });
  return { shown, hides };
}

/** Music that is heard beside the kit. */
export const isBeside = (owner: Owner): boolean => isMic(owner) && owner.piece === "context";

/** Variable that holds the colour of a mic or bus. */
export const colourOf = (owner: Owner): string =>
  owner.piece ? `var(--${owner.piece.replace(/\d/, "")})` : "var(--line-strong)";

/** Columns of the picture: mics left, each bus as far right as it must stand behind what feeds it, the kit last. */
export function columnsOf(song: Song, depths: ReadonlyMap<string, number>): Owner[][] {
  const most = Math.max(...depths.values());
  const columns: Owner[][] = Array.from({ length: most + 1 }, () => []);
  const rows = mixRows(song);
  const place = (o: Owner) => (isMic(o) ? 0 : depths.get(o.id)!);
  for (const { owner } of rows) columns[place(owner)]!.push(owner);
  return columns;
}
