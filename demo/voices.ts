import { randomSource } from "../src/core/signal/random";
import { Cascade, designPass2 } from "../src/core/signal/biquad";

/**
 * Frequencies of an ideal round membrane over its lowest one.
 * Source  zeros of the Bessel functions, Abramowitz and Stegun, table 9.5, divided by 2.4048.
 */
export const membraneRatios = [1, 1.593, 2.136, 2.295, 2.653, 2.917, 3.155, 3.5, 3.598, 3.647];

export type Random = () => number;
/** Roughly normal number, mean 0, deviation 1 (sum of twelve, central limit). */
export const normal = (random: Random): number => {
  let sum = -6;
  for (let i = 0; i < 12; i++) sum += random();
  return sum;
};

/** What leaves a drum on its two sides; one array when both are the same. */
export type Stroke = Float32Array[];

interface Mode {
  frequency: number;
  amplitude: number;
  decay: number; // seconds to 1/e
  phase: number;
}

/** Sum of decaying modes with a pitch that falls from (1 + glide) to 1 within `glideTime`. */
function ring(
  modes: readonly Mode[],
  frames: number,
  rate: number,
  glide: number,
  glideTime: number,
): Float32Array {
  const y = new Float32Array(frames);
  for (const mode of modes) {
    if (mode.frequency > 0.45 * rate) continue;
    const last = Math.min(frames, Math.ceil(mode.decay * 7 * rate));
    const fall = Math.exp(-1 / (mode.decay * rate));
    let level = mode.amplitude;
    let phase = mode.phase;
    if (glide === 0) {
      // A rotating vector is much cheaper than a sine per frame.
      const w = (2 * Math.PI * mode.frequency) / rate;
      const c = Math.cos(w) * fall;
      const s = Math.sin(w) * fall;
      let re = level * Math.cos(phase);
      let im = level * Math.sin(phase);
      for (let i = 0; i < last; i++) {
        y[i]! += im;
        const next = re * c - im * s;
        im = re * s + im * c;
        re = next;
      }
      continue;
    }
    const step = (2 * Math.PI * mode.frequency) / rate;
    const settle = Math.exp(-1 / (glideTime * rate));
    let bend = glide;
    for (let i = 0; i < last; i++) {
      y[i]! += level * Math.sin(phase);
      phase += step * (1 + bend);
      bend *= settle;
      level *= fall;
    }
  }
  return y;
}

/** Noise in a band with an exponential decay and a rise of `attack` seconds, added to y. */
function addNoise(
  y: Float32Array,
  random: Random,
  rate: number,
  band: readonly [number, number],
  level: number,
  decay: number,
  attack = 0.0002,
  delay = 0,
): void {
  const start = Math.round(delay * rate);
  const frames = Math.min(y.length - start, Math.ceil(decay * 7 * rate));
  if (frames <= 0) return;
  const x = new Float64Array(frames);
  const fall = Math.exp(-1 / (decay * rate));
  let e = level;
  for (let i = 0; i < frames; i++) {
    x[i] = (2 * random() - 1) * e * Math.min(1, (i + 1) / (attack * rate));
    e *= fall;
  }
  const filter = new Cascade(2);
  filter.set([
    designPass2("high", band[0], 0.7071, rate),
    designPass2("low", Math.min(band[1], 0.45 * rate), 0.7071, rate),
  ]);
  filter.process(x, x, frames);
  for (let i = 0; i < frames; i++) y[start + i]! += x[i]!;
}

/** How a drum of this kit sounds; everything else follows from the stroke. */
export interface DrumSpec {
  /** Lowest mode, Hz. */
  tune: number;
  /** Decay of the lowest mode to 1/e, s. */
  decay: number;
  /** Frequency of a mode that rings on, or 0; with its decay in s. */
  whistle: number;
  whistleDecay: number;
}

function membrane(drum: DrumSpec, velocity: number, random: Random, middle: number): Mode[] {
  return membraneRatios.map((ratio, n) => ({
    frequency: drum.tune * ratio * (1 + 0.002 * normal(random)),
    // Away from the middle the lowest mode gets less, the others more; soft strokes are duller.
    amplitude:
      (n === 0 ? middle : (1 - 0.6 * middle) * Math.pow(velocity, 0.25 * n) * (0.8 + 0.4 * random())) /
      (1 + 0.35 * n),
    decay: drum.decay / (1 + 0.55 * n),
    phase: 0.15 * random(),
  }));
}

const scale = (x: Float32Array, gain: number): Float32Array => x.map((v) => v * gain);

/** Velocity 0..1 to the amplitude of a stroke: 40 dB over the range of a hand. */
export const strokeGain = (velocity: number): number => Math.pow(10, (velocity - 1) * 2);

export function strikeKick(drum: DrumSpec, velocity: number, random: Random, rate: number): Stroke {
  const frames = Math.round(0.7 * rate);
  const body = ring(membrane(drum, velocity, random, 0.95), frames, rate, 0.55, 0.018);
  const inside = scale(body, 0.55);
  const click = new Float32Array(frames);
  addNoise(click, random, rate, [1500, 7000], 0.42, 0.004);
  addNoise(click, random, rate, [300, 2500], 0.35, 0.012);
  const front = scale(body, 0.8);
  // The front head passes what the beater does, much weaker.
  for (let i = 0; i < frames; i++) {
    inside[i]! += click[i]!;
    front[i]! += 0.25 * click[i]!;
  }
  return [inside, front];
}

export function strikeSnare(drum: DrumSpec, velocity: number, random: Random, rate: number): Stroke {
  const frames = Math.round(0.6 * rate);
  const modes = membrane(drum, velocity, random, 0.62 + 0.2 * random());
  if (drum.whistle > 0)
    modes.push({ frequency: drum.whistle, amplitude: 0.05, decay: drum.whistleDecay, phase: 0 });
  const head = ring(modes, frames, rate, 0.06 * velocity, 0.02);
  const wires = new Float32Array(frames);
  addNoise(wires, random, rate, [1400, 9500], 0.55 + 0.2 * random(), 0.055 + 0.02 * random(), 0.0006, 0.0003);
  addNoise(wires, random, rate, [3000, 12000], 0.4, 0.02, 0.0004, 0.0002);
  const top = scale(head, 0.6);
  const stick = new Float32Array(frames);
  addNoise(stick, random, rate, [900, 9000], 0.5, 0.0035, 0.00008);
  // Above, other parts of the wires are heard than below.
  addNoise(top, random, rate, [1400, 7000], 0.18, 0.06, 0.0006, 0.0005);
  const bottom = new Float32Array(frames);
  // The push of the stick comes through the air inside: the same first move, the other way round below.
  for (let i = 0; i < frames; i++) {
    top[i]! += stick[i]!;
    bottom[i] = -0.5 * head[i]! - 0.12 * stick[i]! + 0.95 * wires[i]!;
  }
  return [top, bottom];
}

export function strikeTom(drum: DrumSpec, velocity: number, random: Random, rate: number): Stroke {
  const frames = Math.round(Math.min(3, Math.max(drum.decay * 6, drum.whistleDecay * 4)) * rate);
  const modes = membrane(drum, velocity, random, 0.7 + 0.15 * random());
  if (drum.whistle > 0)
    modes.push({ frequency: drum.whistle, amplitude: 0.12, decay: drum.whistleDecay, phase: 0 });
  const y = scale(ring(modes, frames, rate, 0.09 * velocity, 0.06), 0.6);
  addNoise(y, random, rate, [1200, 7000], 0.36, 0.004, 0.00008);
  return [y];
}

/** Shape of a cymbal's sound. */
export interface CymbalSpec {
  lowest: number; // Hz
  highest: number;
  modes: number;
  decay: number; // of the lowest modes, s
  ping: number; // share of the clear stroke in the wash
  seconds: number;
}

/**
 * Strokes of one cymbal, made ahead: hundreds of inharmonic modes are too many to sum anew for every stroke.
 * `strikeCymbal` mixes two of them in random shares and adds its own stick, so that no two strokes are alike.
 */
export function prepareCymbal(spec: CymbalSpec, seed: number, rate: number, variants = 4): Float32Array[] {
  const random = randomSource(seed);
  const frequencies = Array.from({ length: spec.modes }, () =>
    Math.exp(Math.log(spec.lowest) + Math.pow(random(), 0.7) * Math.log(spec.highest / spec.lowest)),
  );
  return Array.from({ length: variants }, () => {
    const modes = frequencies.map((frequency) => ({
      frequency,
      amplitude:
        (0.3 + random()) *
        Math.pow(frequency / 4000, frequency < 4000 ? 0.8 : -0.3) *
        (1.6 / Math.sqrt(spec.modes)),
      decay: (spec.decay * (0.5 + random())) / Math.pow(frequency / spec.lowest, 0.45),
      phase: 2 * Math.PI * random(),
    }));
    const y = ring(modes, Math.round(spec.seconds * rate), rate, 0, 1);
    // Above some thousand hertz the modes lie so close that they are a hiss.
    addNoise(y, random, rate, [3500, spec.highest], 0.55, 0.3 * spec.decay, 0.001);
    const rise = 0.0015 * rate;
    for (let i = 0; i < rise; i++) y[i]! *= (i + 1) / rise;
    return y;
  });
}

export function strikeCymbal(
  bank: readonly Float32Array[],
  spec: CymbalSpec,
  velocity: number,
  choke: number,
  random: Random,
  rate: number,
): Stroke {
  const a = bank[Math.floor(random() * bank.length)]!;
  const b = bank[Math.floor(random() * bank.length)]!;
  const share = random();
  const frames = choke > 0 ? Math.min(a.length, Math.round(choke * 8 * rate)) : a.length;
  const y = new Float32Array(frames);
  const fall = choke > 0 ? Math.exp(-1 / (choke * rate)) : 1;
  let e = 0.7;
  for (let i = 0; i < frames; i++) {
    y[i] = e * (share * a[i]! + (1 - share) * b[i]!);
    e *= fall;
  }
  addNoise(y, random, rate, [2500, 12000], 0.5 * spec.ping * (0.7 + 0.6 * velocity), 0.004, 0.00008);
  return [y];
}
