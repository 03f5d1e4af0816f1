import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designAllPass, designButterworth } from "../../signal/biquad";
import { dbToGain } from "../../signal/level";

export const widthParams = {
  width: number("Width", "%", 0, 200, 100, "0 is mono, 100 as it comes, 200 has the side doubled."),
  mid: number("Mid", "dB", -24, 24, 0, "Level of what both sides share."),
  side: number("Side", "dB", -24, 24, 0, "Level of what differs between them."),
  monoBelow: number("Mono below", "Hz", 20, 500, 20, "Folds what lies below; 20 folds nothing.", "log"),
  rotate: number("Turn", "%", -100, 100, 0, "Turns the whole picture; 100 puts the middle on the right."),
  swap: choice("Sides", ["as they come", "swapped"], "Drummer's or audience's side."),
} as const satisfies ParamTable;
export type WidthValues = ParamValues<typeof widthParams>;

/** Left and right as sums of left and right: mid and side levels, then turned, then swapped. Pure. */
export function widthMatrix(v: WidthValues) {
  const mid = dbToGain(v.mid);
  const side = dbToGain(v.side) * (v.width / 100);
  const angle = (v.rotate / 100) * (Math.PI / 4);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  // A turn keeps the energy of both channels together; a source in the middle goes to the right by positive angles.
  const turned = {
    left: { mid: cos - sin, side: cos + sin },
    right: { mid: cos + sin, side: sin - cos },
  };
  const [left, right] = v.swap === "swapped" ? [turned.right, turned.left] : [turned.left, turned.right];
  return {
    left: { mid: left.mid * mid, side: left.side * side },
    right: { mid: right.mid * mid, side: right.side * side },
  };
}

/**
 * Width and place of a pair: levels of mid and side, mono below a frequency, the picture turned or its sides swapped. Mono
 * below: the side goes through a Linkwitz-Riley high-pass of 24 dB/oct and the mid through the all-pass that belongs to it,
 * so that both stay in phase. One channel passes as it is. Latency 0.
 * Source  mid and side: Blumlein's sum and difference; crossover: Linkwitz, J. Audio Eng. Soc. 24(1), 1976.
 */
export class Width implements Processor<WidthValues> {
  readonly latency = 0;
  private rate = 0;
  private readonly high = new Cascade(2);
  private readonly all = new Cascade(1);
  private mids = new Float32Array(0);
  private sides = new Float32Array(0);
  private folds = false;
  private matrix!: ReturnType<typeof widthMatrix>;
  private plain = true;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.mids = new Float32Array(maxFrames);
    this.sides = new Float32Array(maxFrames);
  }
  set(v: WidthValues): void {
    this.matrix = widthMatrix(v);
    this.folds = v.monoBelow > 20;
    this.plain =
      !this.folds &&
      v.width === 100 &&
      v.mid === 0 &&
      v.side === 0 &&
      v.rotate === 0 &&
      v.swap === "as they come";
    const half = designButterworth("high", v.monoBelow, 2, this.rate);
    this.high.set([...half, ...half]);
    this.all.set([designAllPass(v.monoBelow, Math.SQRT1_2, this.rate)]);
  }
  reset(): void {
    this.high.reset();
    this.all.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    if (input.length < 2 || this.plain) {
      for (let ch = 0; ch < input.length; ch++)
        if (input[ch] !== output[ch]) output[ch]!.set(input[ch]!.subarray(0, frames));
      return;
    }
    const { mids, sides } = this;
    const { left, right } = this.matrix;
    const [a, b] = [input[0]!, input[1]!];
    for (let i = 0; i < frames; i++) {
      mids[i] = 0.5 * (a[i]! + b[i]!);
      sides[i] = 0.5 * (a[i]! - b[i]!);
    }
    if (this.folds) {
      this.all.process(mids, mids, frames);
      this.high.process(sides, sides, frames);
    }
    const [y, z] = [output[0]!, output[1]!];
    for (let i = 0; i < frames; i++) {
      y[i] = left.mid * mids[i]! + left.side * sides[i]!;
      z[i] = right.mid * mids[i]! + right.side * sides[i]!;
    }
  }
}
