import { randomSource } from "../src/core/signal/random";
import { plainContext } from "../src/core/processor";
import { reverb } from "../src/core/processors/reverb";
import { resolveParams } from "../src/core/params";
import { designPass2, designShelf, filtered } from "../src/core/signal/biquad";
import { dbToGain, peakOf } from "../src/core/signal/level";
import type { Kit, MicSpec, PieceSpec, Point } from "./kit";
import type { Performance, Strike } from "./performance";
import { addBetween, addDelayed, sounding, type Sounding } from "./sounding";
import { overdriven, squashed } from "./wear";
import {
  type Random,
  prepareCymbal,
  strikeCymbal,
  strikeKick,
  strikeSnare,
  strikeTom,
  strokeGain,
  type Stroke,
} from "./voices";

const speedOfSound = 343; // m/s at 20 degrees Celsius

/** What the simulator knows of one mic file. */
export interface MicTruth {
  file: string;
  piece: string;
  place: string;
  channels: number;
  polarity: 1 | -1;
  /** Frames after the main mic of its drum; null for a main or far mic. */
  delaySamples: number | null;
  reference: string | null;
  unplayed: boolean;
}

export interface Truth {
  sampleRate: number;
  durationSeconds: number;
  mics: MicTruth[];
  arrivals: { piece: string; mic: string; channel: number; delaySamples: number; polarity: 1 | -1 }[];
  tempo: { bpm: number; firstBeatSeconds: number; beatsPerBar: number; beats: number[] };
  sections: { name: string; fromSeconds: number; toSeconds: number }[];
  hits: { piece: string; timeSeconds: number; ghost: boolean; velocity: number }[];
}

export interface SimulatedMic {
  spec: MicSpec;
  channels: Float32Array[];
  /** The drum's own sound in a close mic, without bleed; empty for far mics. */
  own: Float32Array[];
}

/** Where a stroke's sound comes from when it is not synthesised; null: it is. */
export type Voices = (piece: PieceSpec, strike: Strike, random: Random, rate: number) => Stroke | null;

/** Wires that answer other drums: strikes of this name are no strokes. */
export const buzz = "buzz";

const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const minus = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/** Gain of a first-order directivity towards a source, never more than 14 dB down. */
function directivityGain(spec: MicSpec, from: Point, source: Point): number {
  const look = minus(spec.aim, from);
  const to = minus(source, from);
  const cos =
    (look[0] * to[0] + look[1] * to[1] + look[2] * to[2]) /
    (distance([0, 0, 0], look) * distance([0, 0, 0], to) + 1e-9);
  return Math.max(0.2, 1 - (spec.directivity * (1 - cos)) / 2);
}

/** Sound of every piece on each of its sides, as long as the song. */
function renderPieces(
  kit: Kit,
  song: Performance,
  rate: number,
  seed: number,
  voices?: Voices,
): Map<PieceSpec, Float32Array[]> {
  const frames = Math.ceil(song.seconds * rate);
  const sounds = new Map<PieceSpec, Float32Array[]>();
  kit.pieces.forEach((piece, index) => {
    const random = randomSource(seed * 131 + index * 17 + 3);
    const sides = Array.from({ length: piece.otherSide ? 2 : 1 }, () => new Float32Array(frames));
    const bank = piece.cymbal ? prepareCymbal(piece.cymbal, seed * 7 + index + 1, rate) : [];
    for (const strike of song.strikes) {
      if (strike.piece !== piece.piece) continue;
      const make = (): Stroke => {
        const recorded = voices?.(piece, strike, random, rate);
        if (recorded) return recorded;
        if (piece.cymbal)
          return strikeCymbal(bank, piece.cymbal, strike.velocity, strike.choke, random, rate);
        if (piece.piece === "kick") return strikeKick(piece.drum!, strike.velocity, random, rate);
        if (piece.piece === "snare") return strikeSnare(piece.drum!, strike.velocity, random, rate);
        return strikeTom(piece.drum!, strike.velocity, random, rate);
      };
      const at = Math.round(strike.time * rate);
      const gain = piece.strength * strokeGain(strike.velocity);
      make().forEach((y, side) => {
        const target = sides[side]!;
        for (let i = 0; i < y.length && at + i < frames; i++) target[at + i]! += gain * y[i]!;
      });
    }
    sounds.set(piece, sides);
  });
  return sounds;
}

/** Mirror images of a point in the floor, the ceiling and the two nearest walls. The kit stands around (0, 0), a third of the depth from the back. */
function images(p: Point, size: Point): Point[] {
  const [w, d, h] = size;
  return [
    [p[0] < 0 ? -w - p[0] : w - p[0], p[1], p[2]],
    [p[0], (-2 * d) / 3 - p[1], p[2]],
    [p[0], p[1], -p[2]],
    [p[0], p[1], 2 * h - p[2]],
  ];
}

/** One-pole low-pass for what reaches a mic from the side or off a wall. */
function dulled(x: Float32Array, corner: number, rate: number): Float32Array {
  const pole = Math.exp((-2 * Math.PI * corner) / rate);
  const y = new Float32Array(x.length);
  let s = 0;
  for (let i = 0; i < x.length; i++) {
    s = x[i]! + pole * (s - x[i]!);
    if (Math.abs(s) < 1e-15) s = 0; // a long decay would reach denormals, which are slow
    y[i] = s;
  }
  return y;
}

/**
 * Records a performance on a kit.
 * Shape   one entry a mic, channels of equal length; truth as `jubo analyse` would say it.
 * Model   1/r and c = 343 m/s, first-order directivity, four first reflections and a diffuse tail, shelf and low cut of
 *         the mic, polarity and recorder offset. Own drums arrive with fractional, the others with whole-frame delays.
 */
export function simulate(
  kit: Kit,
  song: Performance,
  rate: number,
  seed: number,
  voices?: Voices,
): { mics: SimulatedMic[]; truth: Truth } {
  const frames = Math.ceil(song.seconds * rate);
  const pieces = renderPieces(kit, song, rate, seed, voices);
  const sounds = new Map([...pieces].map(([piece, sides]) => [piece, sides.map(sounding)]));
  const diffuse = renderDiffuse(kit, pieces, frames, rate).map(sounding);
  const dull = new Map<Sounding, Sounding>();
  const dullOf = (sound: Sounding): Sounding => {
    let y = dull.get(sound);
    if (!y) dull.set(sound, (y = sounding(dulled(sound.x, 5000, rate))));
    return y;
  };
  const arrivalFrames = new Map<string, number>(); // piece/file/channel
  const mics = kit.mics.map((spec, index): SimulatedMic => {
    const random = randomSource(seed * 977 + index + 5);
    const own: Float32Array[] = [];
    const channels = spec.at.map((point, ch) => {
      const y = new Float32Array(frames);
      const self = new Float32Array(frames);
      for (const [piece, sides] of sounds) {
        if (!song.strikes.some((strike) => strike.piece === piece.piece)) continue; // a drum that is never struck
        sides.forEach((x, side) => {
          const source = side === 1 ? piece.otherSide! : piece.at;
          const mine = piece.piece === spec.piece;
          // A close mic hears its own side; the other side reaches it through the shell, much weaker.
          const through = mine && side !== spec.side ? 0.12 : 1;
          const share = mine ? 1 : sides.length === 2 ? (side === 0 ? 0.8 : 0.45) : 1;
          const r = Math.max(0.04, distance(source, point));
          const spill = mine ? 1 : dbToGain(spec.spill[piece.piece] ?? 0);
          const gain = (spill * through * share * directivityGain(spec, point, source)) / r;
          const late = (r / speedOfSound) * rate + spec.offset;
          const onAxis = directivityGain(spec, point, source) > 0.75;
          const sound = onAxis ? x : dullOf(x);
          if (mine && side === spec.side) {
            addBetween(self, sound, late, gain);
            arrivalFrames.set(`${piece.piece}/${spec.file}/${ch}`, late);
          } else {
            addDelayed(mine ? self : y, sound, Math.round(late), gain);
            if (side === 0 && !mine) arrivalFrames.set(`${piece.piece}/${spec.file}/${ch}`, Math.round(late));
          }
          if (spec.room >= 0.05 && side === 0)
            for (const image of images(source, kit.room.size)) {
              const far = distance(image, point);
              addDelayed(
                y,
                dullOf(x),
                Math.round((far / speedOfSound) * rate + spec.offset),
                (kit.room.absorption * share) / far,
              );
            }
        });
      }
      addDelayed(y, diffuse[(index + ch) % 2]!, Math.round(spec.offset) + 200 + 90 * ch, spec.room);
      const colour = [
        designPass2("high", spec.lowCut, 0.7071, rate),
        designShelf("high", 4000, spec.brightness, 0.7071, rate),
      ];
      const sum = y;
      for (let i = 0; i < frames; i++) sum[i]! += self[i]! + 2e-5 * (random() - 0.5);
      own.push(filtered(self, colour));
      return filtered(sum, colour);
    });
    const peak = Math.max(...channels.map((c) => peakOf(c)));
    const gain = (dbToGain(spec.peakDb) / Math.max(peak, 1e-9)) * (spec.inverted ? -1 : 1);
    for (const x of [...channels, ...own]) for (let i = 0; i < frames; i++) x[i]! *= gain;
    return { spec, channels: channels.map((x) => recorded(x, spec, rate)), own };
  });
  return { mics, truth: describe(kit, song, rate, frames, arrivalFrames) };
}

/** What a recorder makes of a signal: its clock may run fast, its input may clip. */
function recorded(
  x: Float32Array,
  { clip, drift, drive, squash, peakDb }: MicSpec,
  rate: number,
): Float32Array {
  let y = x;
  if (squash > 0) y = squashed(y, squash, rate);
  if (drive > 0) y = overdriven(y, drive, peakDb);
  if (drift !== 0) {
    y = new Float32Array(x.length);
    const reach = 12;
    for (let i = 0; i < y.length; i++) {
      const at = i / (1 + drift * 1e-6);
      const whole = Math.floor(at);
      let sum = 0;
      for (let k = whole - reach + 1; k <= whole + reach; k++) {
        const d = at - k;
        if (k < 0 || k >= x.length) continue;
        const sinc = d === 0 ? 1 : Math.sin(Math.PI * d) / (Math.PI * d);
        sum += x[k]! * sinc * (0.5 + 0.5 * Math.cos((Math.PI * d) / reach));
      }
      y[i] = sum;
    }
  }
  if (clip <= 0) return y;
  const limit = dbToGain(peakDb - clip);
  return y.map((v) => Math.max(-limit, Math.min(limit, v)));
}

/** Diffuse tail of the room from everything that sounds, two decorrelated signals. */
function renderDiffuse(
  kit: Kit,
  sounds: Map<PieceSpec, Float32Array[]>,
  frames: number,
  rate: number,
): Float32Array[] {
  const sum = new Float32Array(frames);
  for (const sides of sounds.values()) for (let i = 0; i < frames; i++) sum[i]! += 0.5 * sides[0]![i]!;
  const room = reverb.create();
  room.prepare({ sampleRate: rate, channels: 1, maxFrames: 4096 });
  room.set(resolveParams(reverb.params, { decay: kit.room.decay, size: 70, predelay: 0.006, damping: 5500 }));
  room.reset();
  const out = [new Float32Array(frames), new Float32Array(frames)];
  const context = plainContext();
  for (let i = 0; i < frames; i += 4096) {
    const n = Math.min(4096, frames - i);
    room.process(
      [sum.subarray(i, i + n)],
      out.map((o) => o.subarray(i, i + n)),
      n,
      context,
    );
  }
  return out;
}

const isFar = (piece: string): boolean => piece === "overhead" || piece === "room";

function describe(
  kit: Kit,
  song: Performance,
  rate: number,
  frames: number,
  arrivals: Map<string, number>,
): Truth {
  const struck = new Set(song.strikes.map((s) => s.piece));
  const mainOf = (piece: string) => kit.mics.find((m) => m.piece === piece && !isFar(m.piece));
  const radiates = (m: MicSpec): 1 | -1 => (m.piece === "snare" && m.side === 1 ? -1 : 1);
  const sign = (m: MicSpec): 1 | -1 => ((m.inverted ? -1 : 1) * radiates(m)) as 1 | -1;
  const mics = kit.mics.map((m): MicTruth => {
    const main = mainOf(m.piece);
    const second = main !== undefined && main !== m && !isFar(m.piece);
    const late = (x: MicSpec) => arrivals.get(`${m.piece}/${x.file}/0`) ?? 0;
    return {
      file: m.file,
      piece: m.piece,
      place: m.place,
      channels: m.at.length,
      polarity: second ? ((sign(m) * sign(main)) as 1 | -1) : 1,
      delaySamples: second ? late(m) - late(main) : null,
      reference: second ? main.file : null,
      unplayed: !isFar(m.piece) && !struck.has(m.piece),
    };
  });
  const far = kit.mics.filter((m) => isFar(m.piece));
  const list: Truth["arrivals"] = [];
  for (const { piece } of kit.pieces) {
    const main = mainOf(piece);
    if (!main || !struck.has(piece)) continue;
    const start = arrivals.get(`${piece}/${main.file}/0`)!;
    for (const m of far)
      m.at.forEach((_, channel) =>
        list.push({
          piece,
          mic: m.file,
          channel,
          delaySamples: arrivals.get(`${piece}/${m.file}/${channel}`)! - start,
          polarity: ((m.inverted ? -1 : 1) * sign(main)) as 1 | -1,
        }),
      );
  }
  const barSeconds = (60 / song.bpm) * song.beatsPerBar;
  return {
    sampleRate: rate,
    durationSeconds: frames / rate,
    mics,
    arrivals: list,
    tempo: {
      bpm: song.bpm,
      firstBeatSeconds: song.firstBeat,
      beatsPerBar: song.beatsPerBar,
      beats: song.beats,
    },
    sections: song.sections.map((s) => ({
      name: s.name,
      fromSeconds: song.firstBeat + s.fromBar * barSeconds,
      toSeconds: song.firstBeat + (s.fromBar + s.bars) * barSeconds,
    })),
    hits: song.strikes
      .filter((s) => s.piece !== buzz)
      .map((s) => {
        const main = mainOf(s.piece) ?? far[0];
        const late = (main && arrivals.get(`${s.piece}/${main.file}/0`)) ?? 0;
        return {
          piece: s.piece,
          timeSeconds: Math.round(s.time * rate) / rate + late / rate,
          ghost: s.ghost,
          velocity: s.velocity,
        };
      }),
  };
}
