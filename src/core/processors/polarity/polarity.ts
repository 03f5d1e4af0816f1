import { choice, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor } from "../../processor";
import { Glide } from "../glide";

export const polarityParams = {
  polarity: choice("Polarity", ["as recorded", "inverted"], "Turns the wave upside down."),
} as const satisfies ParamTable;

/** Polarity: multiplies by -1 when inverted. Latency 0. */
export class Polarity implements Processor<ParamValues<typeof polarityParams>> {
  readonly latency = 0;
  private readonly glide = new Glide();
  prepare(): void {}
  set({ polarity }: ParamValues<typeof polarityParams>): void {
    this.glide.set(polarity === "inverted" ? -1 : 1);
  }
  reset(): void {
    this.glide.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++)
      this.glide.apply(input[ch]!, output[ch]!, frames, ch === input.length - 1);
  }
}
