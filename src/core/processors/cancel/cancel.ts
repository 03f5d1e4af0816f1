import { lookFrames } from "../../signal/bleedBands";
import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { DelayLine } from "../../signal/delayLine";

export const cancelParams = {
  strength: number("Strength", "%", 0, 100, 100, "Share of the bleed that is taken out."),
  range: number("Range", "dB", 3, 60, 40, "The most by which any band is turned down."),
  smooth: number(
    "Smoothing",
    "s",
    0.002,
    0.1,
    0.005,
    "How slowly the highest bands are let go; the lowest take four times as long. Short takes out more, long sounds calmer.",
    "log",
  ),
} as const satisfies ParamTable;

export type CancelValues = ParamValues<typeof cancelParams>;

/** Frames by which cancelling is late: one look at the sound and the time in which the next is worked out. */
export const cancelLatency = (sampleRate: number): number => 1.5 * lookFrames(sampleRate);

/**
 * Cancelling needs all mics of the kit: the engine does it before the chains (CancelStage). In a chain on its own there
 * is nothing to tell the drums apart by, and this only keeps its time.
 */
export class CancelAlone implements Processor<CancelValues> {
  latency = 0;
  private lines: DelayLine[] = [];

  prepare({ sampleRate, channels }: StreamFormat): void {
    this.latency = cancelLatency(sampleRate);
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
  }
  set(): void {}
  reset(): void {
    for (const line of this.lines) line.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++) this.lines[ch]!.process(input[ch]!, output[ch]!, frames);
  }
}
