import { describe, expect, test } from "@jest/globals";
import { withFree } from "../song/chain";
import { newBus, newProcessor } from "../song/create";
import { applyAll } from "../song/operations";
import type { Song } from "../song/song";
import { ownerOf } from "../song/graph";
import { heardTogether } from "../engine/heardTogether";
import { testMic, testSong } from "../testing/songs";
import { keptOver } from "./masking";
import { keyedDown, keyOf } from "./keyDown";
import { measureMasking } from "./measureMasking";

const rate = 48000;
const frames = 3 * rate;
/** A kick every half second, 60 Hz and dying away, and a bass of 70 Hz that goes on. */
const times = [0.1, 0.6, 1.1, 1.6, 2.1, 2.6];
const kick = new Float32Array(frames);
for (const t of times)
  for (let i = 0; i < 9600 && t * rate + i < frames; i++)
    kick[Math.round(t * rate) + i]! += 0.5 * Math.exp(-i / 3000) * Math.sin((2 * Math.PI * 60 * i) / rate);
const bass = Float32Array.from(kick, (_, i) => 0.3 * Math.sin((2 * Math.PI * 70 * i) / rate));
const { song: plain } = testSong(frames);
const song: Song = {
  ...plain,
  frames,
  mics: [
    plain.mics[0]!,
    testMic("bass", "context", "close", frames),
    testMic("snare", "snare", "top", frames),
  ].map((m) => ({ ...m, output: plain.mics[0]!.output })),
  hits: times.map((time) => ({
    piece: "kick" as const,
    time,
    levelDb: -6,
    ghost: false,
    kind: "stroke" as const,
    sure: 1,
  })),
};
const stretch = [[kick], [bass], [new Float32Array(frames)]];
const measured = (of: Song, by = "bass") => measureMasking({ song: of, of: "kick", by, from: 0, stretch });
const owner = (id: string) => ownerOf(song, id)!;

describe("where one sound covers another", () => {
  test("is read at the strokes of the first, where both lie", () => {
    const { heard, strokes, keyLevels } = measured(song);
    expect(strokes).toBe(true);
    expect(heard.map((h) => Number(h.time.toFixed(3)))).toEqual(times);
    const { whole, bands, shares } = keptOver(heard);
    expect(whole).toBeLessThan(0.5);
    const lost = bands.map((k, b) => (1 - k) * shares[b]!);
    expect(lost.indexOf(Math.max(...lost))).toBeLessThan(8); // under 110 Hz
    for (const level of keyLevels) expect(Math.abs(level + 6.7)).toBeLessThan(1.5);
  });
  test("music beside the kit is looked at where it sounds", () => {
    const { strokes, heard } = measureMasking({ song, of: "bass", by: "kick", from: 0, stretch });
    expect(strokes).toBe(false);
    expect(heard.length).toBeGreaterThan(8);
  });
  test("faders count, and a muted one is named", () => {
    const lower = applyAll(song, [{ op: "setMic", mic: "bass", values: { level: -20 } }]);
    expect(keptOver(measured(lower).heard).whole).toBeGreaterThan(keptOver(measured(song).heard).whole + 0.3);
    const muted = applyAll(song, [{ op: "setMic", mic: "bass", values: { muted: true } }]);
    expect(() => measured(muted)).toThrow("bass.wav gives nothing here");
    expect(() => measured(song, "nobody")).toThrow("no mic or bus");
    expect(() => measured(song, "kit")).toThrow("before its kit");
  });
});

describe("keyed down by the strokes", () => {
  test("a compressor that gives just the depth, at every stroke, and the more is kept", () => {
    const { heard, keyLevels } = measured(song);
    const operation = keyedDown(song, owner("kick"), owner("bass"), 6, keyLevels)!;
    const keyed = applyAll(song, [operation]);
    const [x] = heardTogether(keyed, ["bass"], stretch, 0);
    const [y] = heardTogether(song, ["bass"], stretch, 0);
    const peak = (a: Float32Array, from: number) =>
      a.subarray(from, from + 1600).reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    for (const t of times.slice(0, -1)) {
      const at = Math.round((t + 0.02) * rate);
      expect(20 * Math.log10(peak(x![0]!, at) / peak(y![0]!, at))).toBeCloseTo(-6, 0);
    }
    expect(keptOver(measured(keyed).heard).whole).toBeGreaterThan(keptOver(heard).whole + 0.1);
  });
  test("listens to the drum's main mic, and to nothing that would wait for itself", () => {
    expect(keyOf(song, owner("kick"), owner("bass"))!.id).toBe("kick");
    const looped = applyAll(song, [
      { op: "addBuses", buses: [newBus("low", "Low", "group")] },
      { op: "setMic", mic: "kick", values: { output: "low" } },
    ]);
    expect(keyOf(looped, ownerOf(looped, "low")!, ownerOf(looped, "kick")!)).toBeUndefined();
    expect(keyedDown(song, owner("kick"), owner("bass"), 6, [])).toBeNull();
    expect(keyedDown(song, owner("kick"), owner("bass"), 0, [-6])).toBeNull();
  });
});

test("what several give is in time whatever their chains take", () => {
  const slow = applyAll(song, [
    {
      op: "setChain",
      owner: "bass",
      chain: withFree(owner("bass").chain, [newProcessor("bass", "limiter", true, { ceiling: 0 })]),
    },
  ]);
  const [a] = heardTogether(slow, ["bass", "kick"], stretch, 0);
  const [b] = heardTogether(song, ["bass", "kick"], stretch, 0);
  for (let i = 2000; i < 4000; i++) expect(a![0]![i]).toBeCloseTo(b![0]![i]!, 4);
});
