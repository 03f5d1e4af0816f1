import { chainBefore } from "../../core/shape/hitReductions";
import type { Mic, Song } from "../../core/song/song";
import type { ChainInput } from "../../playback/evidence";
import { strokesIn } from "./useMic";

/** What comes into a place of a mic's chain, and a key that stands for it. */
export interface InputAsk {
  readonly input: ChainInput;
  readonly key: string;
}

/** The mic as recorded: pictures of the steps that come before its chain. */
export function recordedInput({ hits, sampleRate }: Song, mic: Mic): InputAsk {
  const { all } = strokesIn(hits, mic, sampleRate);
  const input = { audio: mic.audio!, start: mic.start, cancelled: null, chain: [], strokes: all, sampleRate };
  return { input, key: JSON.stringify([mic.audio, mic.piece, hits.length, mic.lateBy]) };
}

/** What comes into one of its processors: cancelled where Cancel is on, and through what stands before it. */
export function inputOf(song: Song, id: string, mic: Mic, processor: string): InputAsk {
  const chain = chainBefore(mic.chain, processor).filter((p) => p.on);
  const cancel = chain.find((p) => p.type === "cancel");
  const cancelled = cancel ? { song: id, mic: mic.id, values: cancel.params } : null;
  const { input, key } = recordedInput(song, mic);
  const before = chain.filter((p) => p !== cancel);
  return { input: { ...input, cancelled, chain: before }, key: JSON.stringify([key, cancelled, before]) };
}
