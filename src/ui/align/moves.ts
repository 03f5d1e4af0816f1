import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { processorOf } from "../../core/song/create";
import type { Mic } from "../../core/song/song";
import { shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";

const spec = processorType("delay").params["delay"] as NumberParam;
/** A delay within its range, to a hundredth of a frame. */
export const boundedDelay = (d: number): number =>
  Math.min(spec.max, Math.max(spec.min, Math.round(d * 100) / 100));

export const delayOf = (mic: Mic): number => processorOf(mic, "delay").params["delay"] as number;
export const isInverted = (mic: Mic): boolean =>
  processorOf(mic, "polarity").params["polarity"] === "inverted";

const chosen = (): Mic | undefined => {
  const { song, mic } = useSong.getState();
  return song?.mics.find((m) => m.id === mic);
};

/** Moves the chosen mic by frames; a locked one stays. */
export function nudgeMic(frames: number): void {
  const mic = chosen();
  if (!mic || mic.locked) return;
  const delay = boundedDelay(delayOf(mic) + frames);
  useSong.getState().change(`Move ${shortName(mic.file)} to ${signed(delay, 2)} smp`, {
    op: "setProcessor",
    owner: mic.id,
    processor: processorOf(mic, "delay").id,
    params: { delay },
  });
}

/** Turns the chosen mic over; a locked one stays. */
export function flipMic(): void {
  const mic = chosen();
  if (!mic || mic.locked) return;
  useSong.getState().change(`Turn ${shortName(mic.file)} over`, {
    op: "setProcessor",
    owner: mic.id,
    processor: processorOf(mic, "polarity").id,
    params: { polarity: isInverted(mic) ? "as recorded" : "inverted" },
  });
}

export const lockMic = (mic: Mic): void =>
  useSong.getState().change(`${mic.locked ? "Unlock" : "Lock"} ${shortName(mic.file)}`, {
    op: "setMic",
    mic: mic.id,
    values: { locked: !mic.locked },
  });

const rate = (): number => useSong.getState().song?.sampleRate ?? 48000;
/** Frames of the nudges: one, a tenth of a millisecond, the way of sound over a centimetre. */
export const nudges = [
  { keys: ",  .", does: "1 sample", frames: () => 1 },
  { keys: "Shift ,  .", does: "0.1 ms", frames: () => rate() / 10000 },
  { keys: "Alt ,  .", does: "1 cm", frames: () => rate() / 34300 },
] as const;
