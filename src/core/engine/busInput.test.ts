import { describe, expect, test } from "@jest/globals";
import { newBus, newProcessor } from "../song/create";
import { withFree } from "../song/chain";
import { applyAll } from "../song/operations";
import type { Song } from "../song/song";
import { largestDifference } from "../testing/signals";
import { testSong } from "../testing/songs";
import { busInput, busInputKey } from "./busInput";
import { memoryReader, renderSong } from "./renderSong";

const frames = 24000;
const { song: plain, audio } = testSong(frames);
const look = newProcessor("shells", "limiter", true);
const chainOf = (owner: string, free: ReturnType<typeof newProcessor>) => {
  const found = [...plain.mics, ...plain.buses].find((o) => o.id === owner);
  return { op: "setChain", owner, chain: withFree(found?.chain ?? [], [free]) } as const;
};
/** Kick and snare into shells, which has a limiter and a low fader; the kit behind it. */
const song: Song = applyAll(plain, [
  { op: "addBuses", buses: [newBus("shells", "Shells", "group", { chain: [look], level: -6 })] },
  { op: "setMic", mic: "kick", values: { output: "shells" } },
  { op: "setMic", mic: "snare", values: { output: "shells", level: -3 } },
  chainOf("snare", newProcessor("snare", "compressor", true, { threshold: -30, ratio: 4 })),
]);

async function busOf(of: Song, id: string): Promise<Float32Array[]> {
  const out = [new Float32Array(frames), new Float32Array(frames)];
  let at = 0;
  await renderSong(
    of,
    memoryReader(audio),
    { kit: false, stems: false, buses: true },
    (name, channels, n) => {
      if (name !== `bus:${id}`) return;
      channels.forEach((x, ch) => out[ch]!.set(x.subarray(0, n), at));
      at += n;
    },
  );
  return out;
}

describe("what comes into a bus", () => {
  test("is what a render of the bus gives with nothing on it, in time with the recording", async () => {
    const bare = applyAll(song, [
      { op: "setChain", owner: "shells", chain: [] },
      { op: "setBus", bus: "shells", values: { level: 0 } },
    ]);
    const [made, rendered] = [busInput(song, "shells", audio, 0), await busOf(bare, "shells")];
    rendered.forEach((x, ch) => expect(largestDifference(made[ch]!, x)).toBeLessThan(1e-6));
    expect(Math.max(...made[0]!)).toBeGreaterThan(0.05);
  });
  test("is the same whatever the bus itself does, is soloed, or cut elsewhere; mutes before it hold", () => {
    const made = busInput(song, "shells", audio, 0);
    const otherwise = applyAll(song, [
      { op: "setBus", bus: "shells", values: { muted: true, soloed: true, pan: 50, width: 0 } },
    ]);
    expect(
      largestDifference(
        busInput(
          { ...otherwise, edits: [{ at: 4000, shift: 200, fade: 64, likeness: 1, jumpDb: null }] },
          "shells",
          audio,
          0,
        )[0]!,
        made[0]!,
      ),
    ).toBe(0);
    const muted = applyAll(
      song,
      ["kick", "snare"].map((mic) => ({ op: "setMic", mic, values: { muted: true } }) as const),
    );
    expect(Math.max(...busInput(muted, "shells", audio, 0)[0]!)).toBe(0);
  });
  test("hangs on what feeds it and on nothing else", () => {
    const key = busInputKey(song, "shells");
    const level = (id: string) => ({ op: "setMic", mic: id, values: { level: -1 } }) as const;
    const other = song.mics.find((m) => m.output !== "shells")!.id;
    expect(
      busInputKey(
        applyAll(song, [level(other), { op: "setBus", bus: "shells", values: { level: 2 } }]),
        "shells",
      ),
    ).toBe(key);
    expect(busInputKey(applyAll(song, [level("snare")]), "shells")).not.toBe(key);
    expect(
      busInputKey(applyAll(song, [{ op: "setMic", mic: "snare", values: { soloed: true } }]), "shells"),
    ).toBe(key);
    expect(busInputKey(JSON.parse(JSON.stringify(song)) as Song, "shells")).toBe(key);
    expect(() => busInput(song, "none", audio, 0)).toThrow('no bus "none"');
  });
});
