import { firstAbove } from "../signal/ascending";

/** Length of one click, s. */
const clickSeconds = 0.03;

/**
 * A click: a short sine with a fast decay, higher on the first beat of a bar. Chosen by us to cut through drums: their
 * attacks are noise, this is a pitch.
 */
export function designClick(sampleRate: number, accent: boolean): Float32Array {
  const click = new Float32Array(Math.round(clickSeconds * sampleRate));
  const w = (2 * Math.PI * (accent ? 2200 : 1650)) / sampleRate;
  for (let i = 0; i < click.length; i++) {
    const rise = Math.min(1, i / (0.0005 * sampleRate));
    click[i] = 0.35 * rise * Math.sin(w * i) * Math.exp(-i / (0.006 * sampleRate));
  }
  return click;
}

/** Clicks at given frames, added to the output. Allocates only when made or given other beats. */
export class ClickTrack {
  private readonly sounds: readonly [Float32Array, Float32Array];
  private beats: Float64Array = new Float64Array(0);
  private accents: readonly boolean[] = [];

  constructor(sampleRate: number) {
    this.sounds = [designClick(sampleRate, true), designClick(sampleRate, false)];
  }
  /** Beats in frames, ascending, and which of them begin a bar; empty: no click. */
  set(beats: Float64Array, accents: readonly boolean[]): void {
    this.beats = beats;
    this.accents = accents;
  }
  /** Index of the first beat whose click still sounds at a frame. */
  private first(position: number): number {
    return firstAbove(this.beats, position - this.sounds[0].length);
  }
  /** Adds the clicks that sound in [position, position + frames) to both channels. */
  add(y: readonly Float32Array[], frames: number, position: number): void {
    for (let b = this.first(position); b < this.beats.length && this.beats[b]! < position + frames; b++) {
      const sound = this.sounds[this.accents[b] ? 0 : 1]!;
      const offset = Math.round(position - this.beats[b]!);
      for (let i = Math.max(0, -offset); i < frames && offset + i < sound.length; i++)
        for (let ch = 0; ch < y.length; ch++) y[ch]![i]! += sound[offset + i]!;
    }
  }
}
