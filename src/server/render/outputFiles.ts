import { join } from "node:path";
import type { Delivery } from "../../core/deliver/delivery";
import { outputsOf } from "../../core/deliver/outputs";
import type { Song } from "../../core/song/song";

/** One file of a render: where it goes, and how wide it is. */
export interface OutputFile {
  readonly path: string;
  readonly channels: number;
}

/** Files of a render in a folder by the name of their output. Errors  RangeError for a pattern that cannot be used. */
export const outputFiles = (song: Song, folder: string, delivery: Delivery): Map<string, OutputFile> =>
  new Map(
    outputsOf(song, delivery).map(({ id, folder: below, file, channels }) => [
      id,
      { path: join(folder, below, file), channels },
    ]),
  );
