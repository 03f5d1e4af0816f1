import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor } from "../../processor";
import { dbToGain } from "../../signal/level";
import { Glide } from "../glide";

export const trimParams = {
  gain: number("Trim", "dB", -40, 40, 0, "Level of the mic before everything else."),
} as const satisfies ParamTable;

/** Input gain. Latency 0. */
export class Trim implements Processor<ParamValues<typeof trimParams>> {
  readonly latency = 0;
  private readonly glide = new Glide();
  prepare(): void {}
  set({ gain }: ParamValues<typeof trimParams>): void {
    this.glide.set(dbToGain(gain));
  }
  reset(): void {
    this.glide.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++)
      this.glide.apply(input[ch]!, output[ch]!, frames, ch === input.length - 1);
  }
}
