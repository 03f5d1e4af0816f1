import { uniqueName } from "../file/uniqueName";
import { newMic, newProcessor } from "../song/create";
import { applyAll, type Operation } from "../song/operations";
import { routeByLabel } from "../song/routes";
import { mainMic, type Hit, type Mic, type Song } from "../song/song";
import { loopDrums, type LoopDrum } from "./loopDrums";

/** What a loop is taken apart into, in the order in which the parts stand. */
export const loopPartNames = [...loopDrums, "rest"] as const;
export type LoopPartName = LoopDrum | "rest";

/** A part as it is stored. */
export interface StoredPart {
  readonly name: LoopPartName;
  readonly id: string;
  readonly audio: string | null;
}

/** A part as a mic of the song: it stands where the loop stood, and goes where the loop went, so that together they sound as it did. */
function partMic(song: Pick<Song, "mics">, loop: Mic, { name, id, audio }: StoredPart): Mic {
  const file = uniqueName(
    `${loop.file.replace(/\.[^.]*$/, "")} ${name}.wav`,
    song.mics.map((m) => m.file),
  );
  const { channels, frames, start, level, sends, output } = loop;
  const pan = loop.chain.find((p) => p.type === "pan");
  const place = channels === 2 ? "pair" : "close";
  const mic = newMic({
    id,
    file,
    audio,
    channels,
    frames,
    start,
    piece: name === "rest" ? "loop" : name,
    place,
    sure: 1,
  });
  const chain = mic.chain.map((p) =>
    p.type === "pan" ? { ...newProcessor(id, "pan"), params: { ...p.params, ...pan?.params } } : p,
  );
  return { ...mic, chain, level, sends, output, peakDbfs: loop.peakDbfs };
}

/**
 * The change that puts a loop's parts in its place: the loop is muted and stays, the strokes of drums that have no mic of their own become those
 * of the song. One step.
 * Errors  RangeError for what is no loop.
 */
export function apartOperation(
  song: Song,
  loop: Mic,
  parts: readonly StoredPart[],
  hits: readonly Hit[],
): Operation {
  if (loop.piece !== "loop") throw new RangeError(`${loop.file} is no loop: label it as one in Gather`);
  const mics: Mic[] = [];
  for (const part of parts) mics.push(partMic({ mics: [...song.mics, ...mics] }, loop, part));
  const fresh = hits.filter((h) => !mainMic(song.mics, h.piece));
  const struck = new Set(fresh.map((h) => h.piece));
  const all = [...song.hits.filter((h) => !struck.has(h.piece)), ...fresh].sort((a, b) => a.time - b.time);
  const taken: Operation[] = [
    { op: "addMics", mics },
    { op: "setMic", mic: loop.id, values: { muted: true } },
    ...(fresh.length > 0 ? [{ op: "setSong", values: { hits: all } } as const] : []),
  ];
  return { op: "several", operations: [...taken, ...routeByLabel(song, applyAll(song, taken))] };
}
