import { create } from "zustand";
import { useSong } from "../shared/songStore";

/** Buses whose rows are folded away in the mix table, by song: how one looks at it is no part of the song. */
const useStore = create<{ bySong: Readonly<Record<string, ReadonlySet<string>>> }>(() => ({ bySong: {} }));
const none: ReadonlySet<string> = new Set();

/** Which buses are folded in the open song, and how to fold or unfold one. */
export function useFolded(): { folded: ReadonlySet<string>; fold: (bus: string) => void } {
  const id = useSong((s) => s.id);
  const folded = useStore((s) => s.bySong[id]) ?? none;
  const fold = (bus: string) =>
    useStore.setState(({ bySong }) => {
      const next = new Set(bySong[id] ?? none);
      if (!next.delete(bus)) next.add(bus);
      return { bySong: { ...bySong, [id]: next } };
    });
  return { folded, fold };
}
