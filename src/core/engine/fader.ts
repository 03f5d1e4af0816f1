import { laneFrames, type LaneMemory } from "../lanes/laneMemory";
import type { Planar } from "../processor";

/** A level that glides within a block. */
export class Fader {
  private now: number;
  constructor(private target: number) {
    this.now = target;
  }
  set(gain: number): void {
    this.target = gain;
  }
  /** True while something passes. */
  get open(): boolean {
    return this.now !== 0;
  }
  /** Goes to the wanted level at once. */
  jump(): void {
    this.now = this.target;
  }
  /** As `add`, for places in the engine's memory. */
  addPlace({ kernels }: LaneMemory, x: number, y: number): void {
    const { now, target } = this;
    if (now === 0 && target === 0) return;
    kernels.addStereo(x, y, now, target, laneFrames);
    this.now = target;
  }
  /** Adds x times the gliding gain to y. Shape: y two channels, x one or two. */
  add(x: Planar, y: Planar, frames: number): void {
    const { now, target } = this;
    if (now === 0 && target === 0) return;
    const step = (target - now) / frames;
    for (let ch = 0; ch < y.length; ch++) {
      const from = x[Math.min(ch, x.length - 1)]!;
      const into = y[ch]!;
      if (step === 0) for (let i = 0; i < frames; i++) into[i]! += target * from[i]!;
      else for (let i = 0; i < frames; i++) into[i]! += (now + step * (i + 1)) * from[i]!;
    }
    this.now = target;
  }
}

/** Two channels of one block. */
export const stereoBlock = (frames: number): [Float32Array, Float32Array] => [
  new Float32Array(frames),
  new Float32Array(frames),
];
