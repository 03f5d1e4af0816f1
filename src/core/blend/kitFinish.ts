import { firstOf } from "../song/create";
import { kitOf } from "../song/graph";
import { applyOperation, type Operation } from "../song/operations";
import { putProcessor } from "../song/putProcessor";
import type { Bus, ProcessorState, Song } from "../song/song";
import { signed } from "../song/proposalWords";
import type { Trial } from "./trial";

type Params = ProcessorState["params"];

/** What holds the kit together: slow enough to let strokes through, back before the next one. Figures are common practice, no source. */
export const glue: Params = { ratio: 2, attack: 0.03, release: 0.2, knee: 6, mix: 100 };
/** Reduction of glue at half of the strokes, dB (common practice, no source: 1 to 2). */
export const gluedBy = 1.5;

/** What rounds the kit as tape would: softly, with a little of even harmonics. Figures are common practice, no source. */
export const rounding: Params = { character: "soft", even: 20, mix: 100 };
/** By so much lower, at the same loudness, the peaks of half of the strokes become, dB (common practice, no source). */
export const roundedBy = 1;
/** Drives among which rounding is sought, dB. */
export const driveRange = [-12, 18] as const;

/** What is set, and what it does, in words. */
export interface Fitted {
  readonly params: Params;
  readonly told: string;
}
const tenth = (v: number): number => Math.round(10 * v) / 10;

/** Glue whose threshold gives half of the strokes the reduction, as loud as before. `trial`: of a compressor. */
export async function fitGlue(trial: Trial): Promise<Fitted> {
  const plain = { ...glue, makeup: 0 };
  const threshold = await trial.threshold(plain, gluedBy);
  const { louder, peaks } = await trial.effect({ ...plain, threshold });
  const makeup = tenth(Math.max(0, -louder));
  return {
    params: { ...glue, threshold, makeup },
    told: `${gluedBy} dB at half of the strokes, peaks ${signed(peaks + makeup)} dB, as loud as before`,
  };
}

/** Rounding whose drive takes the peaks down, as loud as before. `trial`: of a saturation. */
export async function fitRounding(trial: Trial): Promise<Fitted> {
  const plain = { ...rounding, output: 0 };
  const drive = await soughtDrive(async (tried) => {
    const { louder, peaks } = await trial.effect({ ...plain, drive: tried });
    return louder - peaks;
  }, roundedBy);
  const { louder, peaks } = await trial.effect({ ...plain, drive });
  const output = tenth(Math.max(-36, Math.min(12, -louder)));
  return {
    params: { ...rounding, drive, output },
    told: `drive ${signed(drive)} dB, peaks of half of the strokes ${signed(peaks - louder)} dB, as loud as before`,
  };
}

/** What stands at the end of a kit and is sought over its strokes: the processor, what it begins from, and how it is fitted. */
export const soughtFinishes: Readonly<
  Record<
    "glue" | "rounding",
    { readonly type: string; readonly params: Params; readonly fit: (trial: Trial) => Promise<Fitted> }
  >
> = {
  glue: { type: "compressor", params: glue, fit: fitGlue },
  rounding: { type: "saturation", params: rounding, fit: fitRounding },
};
export type SoughtFinish = keyof typeof soughtFinishes;

/** A song whose kit has one of them, fitted to it, as an operation. `trialOf`: of a processor of a bus in a song. */
export async function putFinish(
  song: Song,
  way: SoughtFinish,
  trialOf: (song: Song, bus: Bus, state: ProcessorState) => Trial,
): Promise<Fitted & { readonly operation: Operation }> {
  const { type, params, fit } = soughtFinishes[way];
  const put = (values: Params) => putProcessor(kitOf(song), type, values, true);
  const would = applyOperation(song, put(params)).song;
  const kit = kitOf(would);
  const fitted = await fit(trialOf(would, kit, firstOf(kit, type)!));
  return { ...fitted, operation: put(fitted.params) };
}

/**
 * The drive at which a figure that grows with it reaches what is wished, to a tenth of a dB; the end of the range where it never does.
 * `measure` may take long: it is asked eight times.
 */
export async function soughtDrive(
  measure: (drive: number) => Promise<number>,
  wished: number,
): Promise<number> {
  let [low, high]: [number, number] = [...driveRange];
  for (let n = 0; n < 8; n++) {
    const middle = (low + high) / 2;
    if ((await measure(middle)) < wished) low = middle;
    else high = middle;
  }
  return Math.round(5 * (low + high)) / 10;
}
