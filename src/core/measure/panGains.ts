import { designPan, type PanPlace } from "../signal/pan";
import { dbToGain } from "../signal/level";
import { processorOf } from "../song/create";
import type { Mic } from "../song/song";

/** Gains of one channel of a mic into left and right at a level in dB: the far channel of a pair stays on its side. */
export function panGains(mic: Mic, channel: number, levelDb: number): readonly [left: number, right: number] {
  const level = dbToGain(levelDb);
  const [left, right] = designPan(processorOf(mic, "pan").params as unknown as PanPlace, mic.channels === 1);
  if (mic.channels === 1) return [level * left, level * right];
  return channel === 0 ? [level * left, 0] : [0, level * right];
}
