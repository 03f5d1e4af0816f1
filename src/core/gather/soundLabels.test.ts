import { beforeAll, describe, expect, test } from "@jest/globals";
import { simulate, type SimulatedMic, type Truth } from "../../../demo/simulate";
import { variedKit } from "../../../demo/varied";
import { bandEnergies } from "../hits/bandEnergies";
import { noise } from "../testing/signals";
import { monoOf } from "./channels";
import { labelsFromSound, type UnknownMic } from "./soundLabels";

const rate = 48000;
const unknown = (...channels: Float32Array[]): UnknownMic => ({ channels, silent: false, label: null });

const guess = (mics: readonly UnknownMic[]) =>
  labelsFromSound(
    mics,
    mics.map((m) => bandEnergies(monoOf(m.channels), rate)),
    rate,
  );

/** A bass guitar's line: sustained notes that begin between the strokes. */
function bassLine(frames: number): Float32Array {
  const y = new Float32Array(frames);
  for (let at = 7000, note = 0; at < frames; at += 23000, note++) {
    const f = [55, 65.4, 49, 73.4][note % 4]!;
    for (let i = 0; i < 22000 && at + i < frames; i++)
      y[at + i] = 0.3 * Math.exp(-i / 24000) * Math.min(1, i / 300) * Math.sin((2 * Math.PI * f * i) / rate);
  }
  return y;
}
/** A one-shot at every stroke of a drum, some ms late, and digital silence between. */
function layer(frames: number, times: readonly number[]): Float32Array {
  const y = new Float32Array(frames);
  const shot = noise(4000, 9, 0.6).map(
    (v, i) => v * Math.exp(-i / 700) + Math.sin(i / 140) * Math.exp(-i / 900),
  );
  for (const t of times) {
    const at = Math.round((t + 0.004) * rate);
    for (let i = 0; i < shot.length && at + i < frames; i++) y[at + i]! += shot[i]!;
  }
  return y;
}

// A kit that no width was set on (tools/evaluate.ts reports many); what a file is, is known to the simulator.
describe("labels from sound alone", () => {
  let mics: SimulatedMic[];
  let truth: Truth;
  let frames: number;
  beforeAll(() => {
    const { kit, song } = variedKit(405, 9);
    ({ mics, truth } = simulate(kit, song, rate, 405));
    frames = mics[0]!.channels[0]!.length;
  });
  const delivery = () => mics.map((m) => unknown(...m.channels));

  test("most pieces are right without any name, and stereo files are pairs", () => {
    const labels = guess(delivery());
    const right = labels.filter((l, i) => l.piece === truth.mics[i]!.piece).length;
    expect(right / labels.length).toBeGreaterThanOrEqual(0.85);
    labels.forEach((l, i) => expect(l.place === "pair").toBe(mics[i]!.channels.length === 2));
    for (const l of labels) expect(l.sure).toBeLessThan(0.9);
  });
  test("the order of the files does not matter", () => {
    const forth = guess(delivery()).map((l) => l.piece);
    const back = guess(delivery().reverse()).map((l) => l.piece);
    expect(back.reverse()).toEqual(forth);
  });
  test("other music, a layer of one-shots and a silent file are no drums of the kit", () => {
    const kicks = truth.hits.filter((h) => h.piece === "kick").map((h) => h.timeSeconds);
    const extra = [
      unknown(bassLine(frames)),
      unknown(layer(frames, kicks)),
      { ...unknown(new Float32Array(frames)), silent: true },
    ];
    const labels = guess([...delivery(), ...extra]);
    expect(labels.slice(-3).map((l) => l.piece)).toEqual(["context", "sample", "context"]);
    const right = labels.filter((l, i) => l.piece === truth.mics[i]?.piece).length;
    expect(right / mics.length).toBeGreaterThanOrEqual(0.85);
  });
  test("what a name tells is kept, and only the rest is guessed", () => {
    const named = delivery().map((m, i) =>
      i === 2 ? { ...m, label: { piece: "snare", place: "side", sure: 0.97 } as const } : m,
    );
    expect(guess(named)[2]).toEqual({ piece: "snare", place: "side", sure: 0.97 });
  });
});
