import { describe, expect, test } from "@jest/globals";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { testSong } from "../testing/songs";
import { largestDifference } from "../testing/signals";
import { blockFrames, Engine, plainListening } from "./engine";
import { memoryReader, renderSong } from "./renderSong";

async function render(song: Song, audio: Float32Array[][]): Promise<Record<string, Float32Array[]>> {
  const out: Record<string, Float32Array[]> = {};
  const at: Record<string, number> = {};
  const targets = { kit: true, stems: true, buses: true };
  await renderSong(song, memoryReader(audio), targets, (name, channels, frames) => {
    out[name] ??= channels.map(() => new Float32Array(song.frames));
    channels.forEach((x, ch) => out[name]![ch]!.set(x.subarray(0, frames), at[name] ?? 0));
    at[name] = (at[name] ?? 0) + frames;
  });
  return out;
}
const set = (
  owner: string,
  type: string,
  params: Record<string, number | string>,
  on?: boolean,
): Operation => ({
  op: "setProcessor",
  owner,
  processor: `${owner}.${type}`,
  params,
  ...(on === undefined ? {} : { on }),
});
const db = (x: number) => 20 * Math.log10(x + 1e-30);

describe("engine", () => {
  test("an untouched mono mic comes out 3.01 dB down on both sides and nowhere late", async () => {
    const { song, audio } = testSong();
    const { kit } = await render(applyAll(song, [{ op: "setMic", mic: "snare", values: { muted: true } }, { op: "setMic", mic: "oh", values: { muted: true } }]), audio);
    const wanted = audio[0]![0]!.map((v) => v * Math.SQRT1_2);
    expect(db(largestDifference(kit![0]!, wanted))).toBeLessThan(-120);
    expect(db(largestDifference(kit![1]!, wanted))).toBeLessThan(-120);
  }); // prettier-ignore

  test("an untouched stem is the file bit for bit", async () => {
    const { song, audio } = testSong();
    const out = await render(song, audio);
    expect(out["stem:snare"]![0]).toEqual(audio[1]![0]);
    expect(out["stem:oh"]).toEqual(audio[2]);
  });

  // The null test: a parallel path that changes nothing, turned over, must cancel the dry one.
  test.each([
    ["parallel compression", "squash", [set("squash", "compressor", { mix: 0, makeup: 0 })]],
    ["parallel saturation", "grit", [set("grit", "eq", {}, false), set("grit", "saturation", { mix: 0, output: 0 })]],
    ["a room at mix 0", "room", [set("room", "reverb", { mix: 0 })]],
  ] as [string, string, Operation[]][])("%s arrives exactly with the dry path: null below -120 dB", async (_, bus, operations) => {
    const { song, audio } = testSong();
    const path: Operation[] = [
      ...operations,
      { op: "setBus", bus, values: { muted: false, level: 0 } },
      { op: "setSends", mic: "kick", sends: [{ bus, level: 0, beforeFader: false }] },
      { op: "setMic", mic: "oh", values: { muted: true } },
      { op: "setMic", mic: "snare", values: { muted: true } },
    ];
    const dry = await render(applyAll(song, path.slice(operations.length + 2)), audio);
    const both = await render(applyAll(song, path), audio);
    const residue = both["kit"]![0]!.map((v, i) => v - 2 * dry["kit"]![0]![i]!);
    expect(db(Math.max(...residue.map(Math.abs)))).toBeLessThan(-120);
  }); // prettier-ignore

  test("every chain is compensated: a mic with saturation and gate stays in time with one without", async () => {
    const { song, audio } = testSong();
    const same = [audio[0]!, [audio[0]![0]!], audio[2]!];
    const busy = applyAll(song, [
      set("kick", "saturation", { mix: 0, output: 0 }, true),
      set("kick", "gate", { range: 0 }, true),
      set("kick", "delay", { delay: 0 }),
      { op: "setMic", mic: "oh", values: { muted: true } },
    ]);
    const out = await render(busy, same);
    expect(db(largestDifference(out["stem:kick"]![0]!, out["stem:snare"]![0]!))).toBeLessThan(-120);
  });

  test("a bypass in play makes no step larger than the sound's own", () => {
    const { song, audio } = testSong(48000);
    const slow = audio.map((mic) => mic.map((x) => x.map((_, i) => 0.5 * Math.sin(i / 40))));
    const engine = new Engine(applyAll(song, [set("kick", "compressor", { threshold: -40, makeup: 6 }, true)]));
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)];
    let last = 0;
    let largest = 0;
    for (let b = 0; b < 300; b++) {
      const listening = { ...plainListening, compared: ["kick.compressor"], without: b > 150 && b < 220 };
      if (b === 100 || b === 151 || b === 220) engine.listen(listening);
      engine.process(slow.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))), out, b * 128);
      for (const v of out[0]!) {
        if (b > 60) largest = Math.max(largest, Math.abs(v - last));
        last = v;
      }
    }
    // Three sines of slope 0.5/40 a frame, panned and made up by 6 dB at most.
    expect(largest).toBeLessThan(3 * (0.5 / 40) * 2 * 1.2);
  }); // prettier-ignore

  test("compare brings the side without to the same loudness", () => {
    const { song, audio } = testSong(96000);
    const engine = new Engine(applyAll(song, [set("kick", "compressor", { threshold: -60, ratio: 1, makeup: 9 }, true)]));
    engine.listen({ ...plainListening, compared: ["kick.compressor"] });
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)];
    for (let b = 0; b < 700; b++)
      engine.process(audio.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))), out, b * 128);
    expect(engine.matchOf("kick.compressor")).toBeCloseTo(9, 1);
  }); // prettier-ignore

  test("a processor that returns no number is taken out and named, the rest plays on", () => {
    const { song, audio } = testSong();
    const engine = new Engine(applyAll(song, [set("kick", "compressor", {}, true)]));
    const slots = (engine as unknown as { slots: Map<string, { processor: { process: unknown } }> }).slots;
    const { processor } = slots.get("kick.compressor")!;
    processor.process = (_: unknown, y: Float32Array[]) => y.forEach((x) => x.fill(NaN));
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)];
    for (let b = 0; b < 60; b++)
      engine.process(audio.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))), out, b * 128);
    expect(engine.failed).toEqual(["kick.compressor"]);
    expect(out[0]!.every((v) => Number.isFinite(v))).toBe(true);
    expect(Math.max(...out[0]!)).toBeGreaterThan(0.1);
  }); // prettier-ignore

  test("the untreated recording is heard as loud as the mix", () => {
    const { song, audio } = testSong(96000);
    const engine = new Engine(applyAll(song, [{ op: "setBus", bus: "kit", values: { level: -12 } }]));
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)];
    const power = [0, 0];
    for (let b = 0; b < 740; b++) {
      if (b === 500) engine.listen({ ...plainListening, untreated: true });
      engine.process(audio.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))), out, b * 128);
      if (b > 300 && b < 500) power[0]! += out[0]!.reduce((s, v) => s + v * v, 0) / 199;
      if (b > 540) power[1]! += out[0]!.reduce((s, v) => s + v * v, 0) / 199;
    }
    expect(engine.matchDb).toBeCloseTo(-12, 0);
    expect(Math.abs(10 * Math.log10(power[1]! / power[0]!))).toBeLessThan(0.7);
  }); // prettier-ignore
});
