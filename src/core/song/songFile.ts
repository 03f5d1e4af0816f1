import { newestFormat, upgradeSong } from "./formats";
import { checkGraph } from "./graph";
import { limits } from "./limits";
import { list, object, oneOf, whole, within } from "../schema";
import * as schema from "./schema";
import type { Song } from "./song";

const { heardAs, ...must } = schema.songFields;
const document = object(
  {
    format: oneOf(["jubo-song"]),
    formatVersion: whole(newestFormat, newestFormat),
    sampleRate: within(8000, 384000, "Hz"),
    frames: whole(0, 2 ** 40),
    mics: list(schema.mic, limits.mics),
    buses: list(schema.bus, limits.buses),
    ...must,
  },
  { heardAs },
);

/**
 * Reads a song document and checks all of it.
 * Errors  TypeError or RangeError that names what is wrong and where: another format, a newer version, a bad label, value or route.
 */
export function readSong(json: unknown): Song {
  if (typeof json !== "object" || json === null || (json as Song).format !== "jubo-song")
    throw new TypeError("this is not a song of Jubo");
  let song: Song;
  try {
    song = upgradeSong(json);
  } catch {
    throw new TypeError("the song lacks parts that its format has");
  }
  if (song.formatVersion !== newestFormat)
    throw new RangeError(
      `the song has format version ${String(song.formatVersion)}; this program reads versions 1 to ${newestFormat}`,
    );
  document(song, "the song");
  checkGraph(song);
  return song;
}
