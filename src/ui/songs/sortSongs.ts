import type { SongEntry } from "../../contract";

export type Column = "title" | "mics" | "seconds" | "bytes" | "updatedAt";

const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
const titles = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** Songs whose titles have all the words in them, whatever their capitals and accents. */
export const found = (songs: readonly SongEntry[], words: string): SongEntry[] => {
  const sought = plain(words).split(/\s+/).filter(Boolean);
  return songs.filter(({ title }) => sought.every((word) => plain(title).includes(word)));
};

/** Songs by a column; what is alike there by title. */
export const sorted = (songs: readonly SongEntry[], column: Column, down: boolean): SongEntry[] => {
  const order = (a: SongEntry, b: SongEntry): number => {
    const [x, y] = [a[column], b[column]];
    if (typeof x === "number" && typeof y === "number") return x - y;
    return column === "title" ? titles.compare(a.title, b.title) : String(x).localeCompare(String(y));
  };
  return [...songs].sort((a, b) => (down ? order(b, a) : order(a, b)) || titles.compare(a.title, b.title));
};
