import { describe, expect, test } from "@jest/globals";
import { noFacts } from "../../facts/facts";
import { newSong } from "../../song/create";
import { applyAll } from "../../song/operations";
import { routed } from "../../song/routes";
import { renderedKit } from "../../testing/renderedKit";
import { noise } from "../../testing/signals";
import { testMic } from "../../testing/songs";
import { strokeLoudness } from "../strokeLoudness";
import { heardDrums, piecesInto } from "../heardDrums";
import { quickBasis } from "./quickBasis";
import { fundamentalOf, quickOwner, withQuick } from "./quickSong";

const rate = 48000;
const frames = 6 * rate;
const times = Array.from({ length: 10 }, (_, i) => 0.3 + 0.5 * i);
/** Strokes of a tone with a click. */
function drum(frequency: number, late = 0): Float32Array {
  const x = noise(frames, 5, 1e-4);
  for (const t of times)
    for (let i = 0; i < 0.2 * rate; i++)
      x[Math.round(t * rate) + late + i]! +=
        0.4 * Math.sin((2 * Math.PI * frequency * i) / rate) * Math.exp(-i / 4000) +
        0.2 * Math.sin(0.6 * i) * Math.exp(-i / 300);
  return x;
}
const mics = [
  testMic("top", "snare", "top", frames),
  testMic("btm", "snare", "bottom", frames),
  testMic("kick", "kick", "in", frames),
  testMic("oh", "overhead", "pair", frames, 2),
];
const audio = [[drum(190)], [drum(190)], [drum(60, 12000)], [drum(190), drum(190)]];
const song = routed({
  ...newSong("quick", rate, mics),
  hits: [
    ...times.map(
      (time) => ({ piece: "snare", time, levelDb: -8, ghost: false, kind: "stroke", sure: 1 }) as const,
    ),
    ...times.map(
      (time) =>
        ({ piece: "kick", time: time + 0.25, levelDb: -8, ghost: false, kind: "stroke", sure: 1 }) as const,
    ),
  ].sort((a, b) => a.time - b.time),
});
const facts = {
  ...noFacts,
  tone: { top: { fundamental: 190, ring: 400, ringDb: 2 }, kick: { fundamental: 60, ring: 300, ringDb: 2 } },
};

describe("by whose strokes something is judged", () => {
  test("a drum by its own, the kit and far mics by the shells they hear", () => {
    const of = (id: string) =>
      heardDrums(
        song,
        [...song.mics, ...song.buses].find((o) => o.id === id)!,
      );
    expect(of("top")).toEqual(["snare"]);
    expect(of("drum-snare")).toEqual(["snare"]);
    expect(new Set(piecesInto(song, "shells"))).toEqual(new Set(["snare", "kick"]));
    expect(new Set(of("kit"))).toEqual(new Set(["snare", "kick"]));
    expect(new Set(of("oh"))).toEqual(new Set(["snare", "kick"]));
  });
});

describe("quick controls of a song that lies in memory", () => {
  test("stand on a drum's bus where it has one, else on its mic; the kit's weight is the kick's", () => {
    expect(quickOwner(song, "snare")!.id).toBe("drum-snare");
    expect(quickOwner(song, "kick")!.id).toBe("kick");
    expect(quickOwner(song, "kit")!.id).toBe("kit");
    expect(quickOwner(song, "ride")).toBeUndefined();
    expect(fundamentalOf(song, facts, quickOwner(song, "kit")!)).toBe(60);
    expect(fundamentalOf(song, facts, quickOwner(song, "snare")!)).toBe(190);
  });
  test("are placed by the strokes and leave the kit as loud as it was", async () => {
    const turned = withQuick(song, facts, audio, {
      snare: { density: 60 },
      kick: { weight: 70 },
      kit: { air: 30 },
    });
    expect(Object.keys(turned.quick).sort()).toEqual(["drum-snare", "kick", "kit"]);
    expect(turned.quick["drum-snare"]!.basis).toMatchObject({ fundamental: 190, strokes: 10 });
    const onsets = times.filter((t) => t < 3.5).flatMap((t) => [t * rate, (t + 0.25) * rate]);
    const loudness = async (of: typeof song) =>
      strokeLoudness((await renderedKit(of, audio, 4 * rate)).subarray(0, 4 * rate), onsets, rate).whole;
    const change = (await loudness(turned)) - (await loudness(song));
    expect(Math.abs(change)).toBeLessThan(1);
    expect(change).not.toBeCloseTo(0, 3);
  });
  test("what stands before them decides: 12 dB less come in, thresholds lie 12 dB lower", () => {
    const trimmed = applyAll(song, [
      { op: "setProcessor", owner: "kick", processor: "kick.trim", params: { gain: -12 } },
    ]);
    const [plain, quieter] = [song, trimmed].map(
      (s) => withQuick(s, facts, audio, { kick: { density: 50 } }).quick["kick"]!.basis.thresholds,
    );
    // As the mic is recorded: neither pan nor fader counts.
    const onsets = times.map((t) => (t + 0.25) * rate);
    expect(plain).toEqual(
      quickBasis(audio[2]![0]!, onsets, { piece: "kick", fundamental: 60, sampleRate: rate })!.thresholds,
    );
    for (const [i, t] of plain!.entries()) expect(Math.abs(quieter![i]! - t + 12)).toBeLessThan(1.1);
  });
  test("a drum that is not there, and one that is never struck, are said by name", () => {
    expect(() => withQuick(song, facts, audio, { ride: { air: 5 } })).toThrow(
      "quick.ride: the song has no mic",
    );
    const silent = { ...song, hits: song.hits.filter((h) => h.piece === "snare") };
    expect(() => withQuick(silent, facts, audio, { kick: { air: 5 } })).toThrow("quick.kick: no main stroke");
  });
});
