import { designPan, panLaws } from "../../signal/pan";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Glide } from "../glide";

export const panParams = {
  position: number("Pan", "%", -100, 100, 0, "Left (negative) to right; for a stereo mic its balance."),
  law: choice("Pan law", panLaws, "Level of one channel in the middle against a side; a pair is balanced."),
} as const satisfies ParamTable;

/**
 * Pan: one channel to two by a law, at constant power unless another is chosen;
 * two channels are balanced: the far side is turned down, the near one stays.
 */
export class Pan implements Processor<ParamValues<typeof panParams>> {
  readonly latency = 0;
  private mono = true;
  private readonly left = new Glide();
  private readonly right = new Glide();
  prepare({ channels }: StreamFormat): void {
    this.mono = channels === 1;
  }
  set(place: ParamValues<typeof panParams>): void {
    const [left, right] = designPan(place, this.mono);
    this.left.set(left);
    this.right.set(right);
  }
  reset(): void {
    this.left.reset();
    this.right.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    const second = input[this.mono ? 0 : 1]!;
    this.right.apply(second, output[1]!, frames, true);
    this.left.apply(input[0]!, output[0]!, frames, true);
  }
}
