import type { Mic, Song } from "../song/song";
import { partitionResponse, type PartitionedResponse } from "../signal/partitionedResponse";

/** Longest response that is taken, s: what comes behind is left out. */
const longestResponse = 12;

/**
 * Impulse responses of the song at hand, by the id of their mic. Processors look here for theirs when they run, so that a response that
 * is read later than its song is heard as soon as it is there. One song at a time on a thread.
 */
const known = new Map<string, PartitionedResponse>();
/** Counts what came and went, so that processors see without looking each one up. */
let changes = 0;

/** What is taken of a file as an impulse response. */
export const responseOf = (channels: readonly Float32Array[], sampleRate: number): Float32Array[] =>
  channels.slice(0, 2).map((x) => x.subarray(0, Math.round(longestResponse * sampleRate)));

export const responses = {
  get changes(): number {
    return changes;
  },
  get: (mic: string): PartitionedResponse | null => known.get(mic) ?? null,
  put(mic: string, response: PartitionedResponse): void {
    known.set(mic, response);
    changes++;
  },
  /** Takes audio as it was recorded. */
  putAudio(mic: string, channels: readonly Float32Array[], sampleRate: number): void {
    responses.put(mic, partitionResponse(responseOf(channels, sampleRate)));
  },
  /** All that are known, to be handed on to another thread. */
  entries: (): [string, PartitionedResponse][] => [...known],
  clear(): void {
    known.clear();
    changes++;
  },
};

/** Files of a song that some processor answers with. */
export function responsesOf(song: Pick<Song, "mics" | "buses">): Mic[] {
  const wanted = new Set(
    [...song.mics, ...song.buses].flatMap((o) => o.chain.flatMap((p) => p.response ?? [])),
  );
  return song.mics.filter((m) => wanted.has(m.id));
}
