import { writeWav, type WriteFormat } from "../src/core/file/wavWrite";
import { demoKit } from "./kit";
import { demoPerformance } from "./performance";
import { simulate, type SimulatedMic, type Truth } from "./simulate";

/** Title of the demo song: a dance band in a disused ferry waiting room. */
export const demoTitle = "Ferry Room Stomp";
export const demoSampleRate = 48000;

/** The demo song's mics and what is true of them; takes some seconds. */
export const makeDemo = (): { mics: SimulatedMic[]; truth: Truth } =>
  simulate(demoKit(), demoPerformance(), demoSampleRate, 1);

/** The bytes of one mic file. */
export const micFile = ({ spec, channels }: SimulatedMic, sampleRate: number): Uint8Array =>
  writeWav(
    { sampleRate, channels },
    ({ 16: "wav16", 24: "wav24", 32: "wav32f" } as Record<number, WriteFormat>)[spec.bits]!,
  );
