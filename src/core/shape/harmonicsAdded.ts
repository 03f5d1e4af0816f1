import { SoloChain } from "../engine/soloChain";
import { blockFrames } from "../engine/engine";
import { gainToDb, dbToGain, silenceDb } from "../signal/level";
import type { ProcessorState } from "../song/song";

/** Harmonics that are told: the second to the ninth. */
export const toldHarmonics = [2, 3, 4, 5, 6, 7, 8, 9] as const;
const settleSeconds = 0.3;

/** Amplitude of a frequency in a signal of whole periods. */
function amplitude(x: Float32Array, frequency: number, sampleRate: number): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < x.length; i++) {
    const w = (2 * Math.PI * frequency * i) / sampleRate;
    re += x[i]! * Math.cos(w);
    im += x[i]! * Math.sin(w);
  }
  return (2 * Math.hypot(re, im)) / x.length;
}

/**
 * Harmonics that a processor makes of a tone, dB against the tone as it comes out: those at a drum's own fundamental and level
 * tell what it adds to the drum. Units  Hz, dBFS (peak of the tone). Shape  one for each of `toldHarmonics`; `silenceDb` beyond half the
 * sample rate.
 */
export function harmonicsAdded(
  state: ProcessorState,
  fundamental: number,
  levelDb: number,
  sampleRate: number,
): number[] {
  const chain = new SoloChain([{ ...state, on: true }], sampleRate, 1);
  // A whole number of periods in a whole number of frames: the tone is the nearest that has that.
  const periods = 20;
  const length = Math.round((periods * sampleRate) / fundamental);
  const frequency = (periods * sampleRate) / length;
  const settled = Math.ceil((settleSeconds * sampleRate + chain.latency) / blockFrames) * blockFrames;
  const y = new Float32Array(settled + length + blockFrames);
  const block = new Float32Array(blockFrames);
  for (let at = 0; at + blockFrames <= y.length; at += blockFrames) {
    for (let i = 0; i < blockFrames; i++)
      block[i] = dbToGain(levelDb) * Math.sin((2 * Math.PI * frequency * (at + i)) / sampleRate);
    chain.process([block], at);
    y.set(chain.output[0]!, at);
  }
  const steady = y.subarray(settled, settled + length);
  const tone = amplitude(steady, frequency, sampleRate);
  return toldHarmonics.map((n) =>
    n * frequency < sampleRate / 2 && tone > 0
      ? gainToDb(amplitude(steady, n * frequency, sampleRate) / tone)
      : silenceDb,
  );
}
