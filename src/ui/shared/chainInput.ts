import { busInputKey } from "../../core/engine/busInput";
import { chainBefore } from "../../core/shape/hitReductions";
import { placeStrokes } from "../../core/engine/oneShots/placeStrokes";
import { isLayer, type Mic, type ProcessorState, type Song } from "../../core/song/song";
import { isMic, type Owner } from "../../core/song/graph";
import type { ChainInput, MicAudio } from "../../playback/evidence";
import { strokesIn } from "../../core/shape/heardDrums";

/** What comes into a place of a chain, and a key that stands for it. */
export interface InputAsk {
  readonly input: ChainInput;
  readonly key: string;
}

/** A mic's audio where it lies: a recording, or a layer as it was played. */
export const audioOf = (song: Song, mic: Mic): MicAudio => ({
  audio: mic.audio!,
  start: mic.start,
  ...(isLayer(mic)
    ? { layer: { sounds: placeStrokes(song, mic, false), channels: mic.channels, frames: song.frames } }
    : {}),
});

/** The mic as recorded: pictures of the steps that come before its chain. */
export function recordedInput(song: Song, mic: Mic): InputAsk {
  const { hits, sampleRate } = song;
  const { all } = strokesIn(song, mic);
  const source = audioOf(song, mic);
  const input = { source, chain: [], strokes: all, sampleRate };
  return { input, key: JSON.stringify([mic.audio, mic.piece, hits.length, mic.lateBy, mic.layer]) };
}

/** What comes into a bus, made by the server of what feeds it. */
function busSource(song: Song, id: string, bus: string): ChainInput["source"] {
  const stands = busInputKey(song, bus);
  return { path: `/api/songs/${id}/buses/${encodeURIComponent(bus)}/input?stands=${stands}`, stands };
}

/** A mic as Cancel leaves it with these values; the strokes tell Cancel what to spare. */
function cancelledSource(
  id: string,
  mic: string,
  values: object,
  strokes: readonly number[],
): ChainInput["source"] {
  const query = new URLSearchParams(Object.entries(values).map(([name, value]) => [name, String(value)]));
  return { path: `/api/songs/${id}/mics/${mic}/cancelled?${query.toString()}`, stands: strokes.join() };
}

/** What comes into one of the processors of a mic or bus: cancelled where Cancel is on, and through what stands before it. */
export const inputOf = (song: Song, id: string, owner: Owner, processor: string): InputAsk =>
  inputBehind(song, id, owner, chainBefore(owner.chain, processor));

/** What the first part of a chain gives. */
export function inputBehind(song: Song, id: string, owner: Owner, part: readonly ProcessorState[]): InputAsk {
  const before = part.filter((p) => p.on);
  const cancel = before.find((p) => p.type === "cancel");
  const chain = before.filter((p) => p !== cancel);
  const { all: strokes } = strokesIn(song, owner);
  if (!isMic(owner)) {
    const source = busSource(song, id, owner.id);
    const input = { source, chain, strokes, sampleRate: song.sampleRate };
    return { input, key: JSON.stringify([source, chain]) };
  }
  const { input, key } = recordedInput(song, owner);
  if (!cancel) return { input: { ...input, chain }, key: JSON.stringify([key, chain]) };
  const source = cancelledSource(id, owner.id, cancel.params, strokes);
  return { input: { ...input, source, chain }, key: JSON.stringify([key, cancel.params, chain]) };
}
