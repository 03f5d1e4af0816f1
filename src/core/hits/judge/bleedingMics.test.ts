import { beforeAll, describe, expect, test } from "@jest/globals";
import { designPass2, filtered } from "../../signal/biquad";
import type { Hit, Piece } from "../../song/song";
import { noise } from "../../testing/signals";
import { bandEnergies } from "../bandEnergies";
import { detectHits } from "../detectHits";
import { findStrokes, type HeardMic } from "../events";
import { askedFor, findInstants, risingColumns, type Row } from "./instants";
import { StrokePrints } from "./prints";

const rate = 48000;
const seconds = 24;
const frames = seconds * rate;
const gain = (db: number) => 10 ** (db / 20);

/** A stroke added to a track: a low mode and a click of noise, or a short hiss. */
function strike(y: Float32Array, at: number, level: number, hz: number, decay: number, seed: number): void {
  const click = noise(9600, seed);
  const from = Math.round(at * rate);
  for (let i = 0; i < 9600 && from + i < y.length; i++) {
    const t = i / rate;
    const tone = hz > 0 ? Math.exp(-t / decay) * Math.sin(2 * Math.PI * hz * t) : 0;
    y[from + i]! +=
      level * (0.8 * tone + click[i]! * (hz > 0 ? 0.5 * Math.exp(-t / 0.03) : Math.exp(-t / decay)));
  }
}

const instantsOf = (rows: readonly Row[]) => findInstants(rows, askedFor(rows, false).map(risingColumns));

const every = (step: number, from: number) =>
  Array.from({ length: Math.floor((seconds - 1 - from) / step) }, (_, i) => from + i * step);
const played: Record<"kick" | "snare" | "hat", number[]> = {
  kick: every(1, 0.5),
  snare: every(1, 1),
  hat: every(0.25, 0.5),
};

/** What every drum gives by itself, and what the three mics hear. `snareInHat` and `hatInSnare`: bleed in dB against the mic's own drum. */
function record(hatInSnare: number, snareInHat: number): Record<"kick" | "snare" | "hat", Float32Array> {
  const dry = {
    kick: new Float32Array(frames),
    snare: new Float32Array(frames),
    hat: new Float32Array(frames),
  };
  played.kick.forEach((t, i) => strike(dry.kick, t, 0.8 + 0.1 * Math.sin(i), 60, 0.1, 10 + i));
  played.snare.forEach((t, i) => strike(dry.snare, t, 0.7 + 0.1 * Math.sin(i), 200, 0.08, 200 + i));
  played.hat.forEach((t, i) => strike(dry.hat, t, 0.3 + 0.05 * Math.sin(2 * i), 0, 0.04, 400 + i));
  const hat = filtered(dry.hat, [designPass2("high", 3000, 0.7071, rate)]);
  const sum = (a: number, b: number, c: number) =>
    dry.kick.map((v, i) => a * v + b * dry.snare[i]! + c * hat[i]! + 1e-5 * Math.sin(i * i));
  // A hat is 0.3, a snare 0.7 loud by itself.
  return {
    kick: sum(1, gain(-20), gain(-35)),
    snare: sum(gain(-20), 1, gain(hatInSnare) * (0.7 / 0.3)),
    hat: sum(gain(-14), gain(snareInHat) * (0.3 / 0.7), 1),
  };
}

const F = (hits: readonly Hit[], piece: Piece, truth: readonly number[], tolerance: number): number => {
  const found = hits.filter((h) => h.piece === piece);
  const right = truth.filter((t) => found.some((h) => Math.abs(h.time - t) < tolerance)).length;
  return (2 * right) / (found.length + truth.length);
};

// Two mics of which each hears the other's drum about as loudly as its own (issue 11): all snares were lost.
describe("a hat 6 dB under the snare in the snare's mic, a snare 3 dB over the hat in the hat's", () => {
  const mics = record(-6, 3);
  let hits: readonly Hit[];
  beforeAll(async () => {
    const heard = (["kick", "snare", "hat"] as const).map((piece) => ({
      piece,
      audio: mics[piece],
      role: "main" as const,
    }));
    ({ hits } = await detectHits(
      heard,
      heard.map((m) => bandEnergies(m.audio, rate)),
      rate,
    ));
  });
  test.each([
    ["kick", 0.005, 0.98],
    ["snare", 0.005, 0.98],
    ["hat", 0.02, 0.9],
  ] as const)("strokes of the %s are found within %d s: F over %d", (piece, tolerance, least) => {
    expect(F(hits, piece, played[piece], tolerance)).toBeGreaterThan(least);
  });
  test("on threads, to which what is known is copied, the same is found", async () => {
    const heard = (["kick", "snare", "hat"] as const).map((piece) => ({
      piece,
      audio: mics[piece],
      role: "main" as const,
    }));
    const energies = heard.map((m) => bandEnergies(m.audio, rate));
    const copied = await detectHits(heard, energies, rate, [], undefined, {
      rises: async (asks) => asks.map((ask) => structuredClone(risingColumns(structuredClone(ask)))),
      strokes: async (asks) => asks.map((ask) => findStrokes(structuredClone(ask))),
    });
    expect(copied.hits).toEqual(hits);
  });
  test("what is told with a sureness of nine tenths is right nine times of ten at least", () => {
    const sure = hits.filter((h) => h.sure > 0.9);
    const right = sure.filter((h) => played[h.piece as "kick"].some((t) => Math.abs(t - h.time) < 0.02));
    expect(right.length / sure.length).toBeGreaterThan(0.9);
  });
});

describe("a song that is longer than prints are learnt from", () => {
  test("is explained as if it were learnt from whole: loudness at the strokes within 2 dB", () => {
    const mics = record(-6, 3);
    const pieces = ["kick", "snare", "hat"] as const;
    const rows = pieces.map((p, piece): Row => ({
      piece,
      main: true,
      energies: bandEnergies(mics[p], rate),
    }));
    const instants = instantsOf(rows);
    const whole = new StrokePrints(pieces, rows, instants);
    const parts = new StrokePrints(pieces, rows, instants, [], Math.round(0.5 * instants.columns.length));
    const { hop } = rows[0]!.energies;
    for (const piece of pieces)
      for (const t of played[piece]) {
        const i = instants.columns.findIndex((column) => Math.abs(column * hop - t) < 0.012);
        const db = (p: StrokePrints) => 10 * Math.log10(p.loudnessOf(i, p.sources.indexOf(piece)));
        expect(Math.abs(db(whole) - db(parts))).toBeLessThan(2);
      }
  });
});

describe("instants", () => {
  const rowOf = (times: readonly number[], length = frames): Row => {
    const y = new Float32Array(length);
    times.forEach((t, i) => strike(y, t, 0.5, 150, 0.05, 900 + i));
    return {
      piece: 0,
      main: true,
      energies: bandEnergies(
        y.map((v, i) => v + 1e-5 * Math.sin(i * i)),
        rate,
      ),
    };
  };
  test("rises in several mics within some ms are one, strokes 50 ms apart two", () => {
    const instants = instantsOf([rowOf([1, 3]), rowOf([1.004, 3.05])]);
    const at = Array.from(instants.columns, (column) => column * 0.002667).filter((t) =>
      [1, 3, 3.05].some((s) => Math.abs(t - s) < 0.012),
    );
    expect(at.filter((t) => t < 2)).toHaveLength(1);
    expect(at.filter((t) => t > 2)).toHaveLength(2);
  });
  test("a file that ends early is heard as silence behind its end", () => {
    const instants = instantsOf([rowOf([1, 5]), rowOf([1], 3 * rate)]);
    expect(instants.heard.values.every(Number.isFinite)).toBe(true);
  });
});

test("a song without any drum's own mic has no strokes, and a lone mic that hears nothing has none either", async () => {
  const silence = new Float32Array(2 * rate);
  const far = { piece: "overhead" as const, audio: silence, role: "far" as const };
  expect(await detectHits([], [], rate)).toEqual({ events: [], hits: [] });
  const found = async (mic: HeardMic) =>
    (await detectHits([mic], [bandEnergies(silence, rate)], rate, ["hat"])).hits;
  expect(await found(far)).toEqual([]);
  const kick = { piece: "kick" as const, audio: silence, role: "main" as const };
  expect(await found(kick)).toEqual([]);
});

describe("a tom that nobody strikes", () => {
  // Its mic only hears the floor tom, 15 dB quieter than that one's own; both hear kick and snare alike.
  const floor = [1.2, 3.1, 5.3, 7.1].map((t) => t + 0.25);
  const mics = record(-6, 3);
  const low = new Float32Array(frames);
  floor.forEach((t, i) => strike(low, t, 0.8, 90, 0.12, 700 + i));
  const with_ = (gain: number, rest: number) =>
    low.map((v, i) => gain * v + rest * (mics.snare[i]! + mics.kick[i]!));
  test("has no strokes, and takes none from the floor tom", async () => {
    const heard = [
      { piece: "kick" as const, audio: mics.kick },
      { piece: "snare" as const, audio: mics.snare },
      { piece: "tom1" as const, audio: with_(0.18, 0.1) },
      { piece: "floor" as const, audio: with_(1, 0.1) },
    ].map((m) => ({ ...m, role: "main" as const }));
    const { hits } = await detectHits(
      heard,
      heard.map((m) => bandEnergies(m.audio, rate)),
      rate,
    );
    expect(hits.filter((h) => h.piece === "tom1")).toEqual([]);
    expect(F(hits, "floor", floor, 0.005)).toBe(1);
  });
});
