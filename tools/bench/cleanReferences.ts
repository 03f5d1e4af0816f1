import { siSdr } from "../../demo/cleanScore";
import { processChain } from "../../src/core/engine/processChain";
import { designButterworth, filtered } from "../../src/core/signal/biquad";
import { newProcessor } from "../../src/core/song/create";

/** Thresholds that are tried, dB under the mic's peak. */
const thresholds = Array.from({ length: 23 }, (_, i) => -2 - 2 * i);

/** The way that brings a mic nearest to the drum's own sound, which nobody knows who sets it by hand. */
function best(own: Float32Array, raw: Float32Array, make: (threshold: number) => Float32Array): Float32Array {
  const peak = 20 * Math.log10(raw.reduce((most, v) => Math.max(most, Math.abs(v)), 1e-6));
  const tried = thresholds.map((t) => make(peak + t));
  return tried.reduce((a, b) => (siSdr(own, b) > siSdr(own, a) ? b : a));
}

/** A plain gate opened by level, at its best fixed threshold. Attack, hold and release are common practice. */
export const bestGate = (own: Float32Array, raw: Float32Array, sampleRate: number): Float32Array =>
  best(own, raw, (threshold) => {
    const params = {
      opens: "level",
      threshold,
      range: 60,
      attack: 0.0003,
      hold: 0.04,
      release: 0.08,
      lookahead: 0,
    };
    return processChain([newProcessor("reference", "gate", true, params)], [raw], sampleRate)[0]!;
  });

/**
 * A downward expander with ratio 1:3 and no more than 40 dB, at its best fixed threshold.
 * Source  static curve and smooth branching peak detector (attack 1 ms, release 80 ms): Zölzer (ed.), DAFX, 2nd edition,
 *         2011, chapter 4.
 */
export const bestExpander = (own: Float32Array, raw: Float32Array, sampleRate: number): Float32Array =>
  best(own, raw, (threshold) => {
    const [attack, release] = [0.001, 0.08].map((s) => Math.exp(-1 / (s * sampleRate))) as [number, number];
    let level = 0;
    return raw.map((v) => {
      const x = Math.abs(v);
      const pole = x > level ? attack : release;
      level = pole * level + (1 - pole) * x;
      const db = 20 * Math.log10(Math.max(level, 1e-9));
      return v * 10 ** (Math.max(-40, Math.min(0, 2 * (db - threshold))) / 20);
    });
  });

/**
 * The mic less a crushed, high-passed copy of itself, which holds what is quiet and no more than the threshold of what is
 * loud, at its best cut-off and threshold (common practice, no source).
 */
export function bestCrushedCopy(own: Float32Array, raw: Float32Array, sampleRate: number): Float32Array {
  const tried = [500, 1000, 2000].map((cutOff) => {
    const high = filtered(raw, designButterworth("high", cutOff, 2, sampleRate));
    return best(own, raw, (threshold) => {
      const limit = 10 ** (threshold / 20);
      const release = Math.exp(-1 / (0.05 * sampleRate));
      let level = 0;
      return raw.map((v, i) => {
        level = Math.max(Math.abs(high[i]!), release * level);
        return v - high[i]! * Math.min(1, limit / Math.max(level, 1e-9));
      });
    });
  });
  return tried.reduce((a, b) => (siSdr(own, b) > siSdr(own, a) ? b : a));
}
