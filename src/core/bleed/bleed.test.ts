import { describe, expect, test } from "@jest/globals";
import { RealFft } from "../signal/fft";
import { noise } from "../testing/signals";
import { bleedGain, bleedSong } from "../testing/bleedSong";
import { testMic } from "../testing/songs";
import { bandBins, bandPowers, bleedBands, bleedEdges, lookFrames, lookWindow } from "../signal/bleedBands";
import { measureBleed } from "./measureBleed";
import { Separation } from "./separate";

const { song, audio } = bleedSong();

describe("bands", () => {
  // Source: Glasberg and Moore 1990, equation 4: 1 kHz lies at 15.6 ERBs, from memory.
  test("edges are equally far apart on the ear's scale, and 1 kHz lies where the formula's authors put it", () => {
    const rate = (hz: number) => 21.4 * Math.log10(1 + 0.00437 * hz);
    expect(rate(1000)).toBeCloseTo(15.6, 1);
    const steps = bleedEdges.slice(2).map((hz, i) => rate(hz) - rate(bleedEdges[i + 1]!));
    for (const step of steps) expect(step).toBeCloseTo(steps[0]!, 6);
  });
  test.each([22050, 44100, 48000, 96000, 192000])(
    "at %d Hz every band below half of it holds a bin, all bins are in one",
    (rate) => {
      const size = lookFrames(rate);
      const bins = bandBins(size, rate);
      expect([bins[0], bins[bleedBands]]).toEqual([0, size / 2 + 1]);
      for (let b = 0; b < bleedBands; b++)
        if (bleedEdges[b]! < rate / 2) expect(bins[b + 1]!).toBeGreaterThan(bins[b]!);
        else expect(bins[b + 1]).toBe(size / 2 + 1);
    },
  );
  test("windowed twice, looks that overlap by half add up to one", () => {
    const w = lookWindow(1024);
    for (let i = 0; i < 512; i++) expect(w[i]! ** 2 + w[i + 512]! ** 2).toBeCloseTo(1, 12);
  });
  test("energies of white noise are as wide as their bands", () => {
    const [size, rate] = [1024, 48000];
    const fft = RealFft.of(size);
    const [spectrum, bins, one, sum] = [
      fft.spectrum(),
      bandBins(size, rate),
      new Float64Array(bleedBands),
      new Float64Array(bleedBands),
    ];
    const x = noise(size * 400, 5);
    for (let i = 0; i < 400; i++) {
      fft.forward(x, i * size, size, spectrum, lookWindow(size));
      bandPowers(spectrum, bins, size, one);
      one.forEach((v, b) => (sum[b]! += v));
    }
    const perBin = Array.from(sum, (v, b) => v / (bins[b + 1]! - bins[b]!)).slice(3, -1);
    for (const v of perBin) expect(Math.abs(10 * Math.log10(v / perBin[0]!))).toBeLessThan(1);
  });
});

describe("how mics hear the drums", () => {
  test("bleed 15 dB down is measured so in every band where the drum sounds", () => {
    const heard = song.bleed["kick"]![0]!;
    const wanted = 20 * Math.log10(bleedGain);
    for (let b = 4; b < bleedBands - 1; b++)
      expect(Math.abs(heard.drums.snare![b]! - wanted)).toBeLessThan(1.5);
    expect(heard.drums.kick!.every((db) => db === 0)).toBe(true);
    expect(song.bleed["snare"]![0]!.drums.kick!.slice(1, 8).every((db) => Math.abs(db - wanted) < 2)).toBe(
      true,
    );
  });
  test("overheads have an entry a channel; rooms, other music and silent mics have none", () => {
    expect(song.bleed["oh"]).toHaveLength(2);
    const others = [
      testMic("room", "room", "pair", 100),
      testMic("bass", "context", "close", 100),
      { ...testMic("t", "tom1", "close", 100), silent: true },
    ];
    expect(
      measureBleed({
        mics: others,
        audio: others.map(() => [new Float32Array(100)]),
        hits: song.hits,
        sampleRate: 48000,
      }),
    ).toEqual({});
  });
  test("a drum that never plays alone is guessed and not measured", () => {
    const together = song.hits
      .filter((h) => h.piece === "snare")
      .flatMap((h) => [h, { ...h, piece: "kick" as const }]);
    const { kick } = measureBleed({ mics: song.mics, audio, hits: together, sampleRate: 48000 });
    expect(new Set(kick![0]!.drums.snare)).toEqual(new Set([-25]));
  });
});

describe("telling apart", () => {
  const separation = new Separation(song.mics, song.bleed);
  const K = separation.sources;
  const own = (id: string) => separation.observers.findIndex((o) => song.mics[o.mic]!.id === id);
  /** Gains of one band's look for true energies of the drums, heard as the song's mics hear them. */
  function gainsFor(energies: Record<string, number>, sounds = K.map(() => 1)): Float64Array[] {
    const powers = separation.observers.map((o) => {
      const { drums } = song.bleed[song.mics[o.mic]!.id]![o.channel]!;
      return Float64Array.from({ length: bleedBands }, (_, b) =>
        K.reduce((sum, p) => sum + energies[p]! * 10 ** (drums[p]![b]! / 10), 0),
      );
    });
    const gains = separation.observers.map(() => new Float64Array(bleedBands));
    separation.gains(powers, Uint8Array.from(sounds), gains);
    return gains;
  }
  // The closed answer for mics that hear as they were measured: each drum's share of the energy.
  test.each([
    [1, 0.01],
    [0.01, 1],
    [1, 1],
    [1e-6, 1],
  ])("kick %p, snare %p: each mic keeps its own drum's share", (kick, snare) => {
    const gains = gainsFor({ kick, snare });
    const b = 10;
    const leak = 10 ** (song.bleed["kick"]![0]!.drums.snare![b]! / 10);
    expect(gains[own("kick")]![b]!).toBeLessThan(kick / (kick + leak * snare) + 0.2); // steps are few: at most so much is left
    expect(gains[own("kick")]![b]!).toBeGreaterThan(kick / (kick + leak * snare) - 0.05);
    expect(gains[own("snare")]![b]!).toBeGreaterThan(snare >= 1 ? 0.95 : 0.1);
  });
  test("a shell that is not struck has nothing, whatever its mic hears; overheads keep everything", () => {
    const gains = gainsFor(
      { kick: 1e-4, snare: 1 },
      K.map((p) => (p === "kick" ? 0 : 1)),
    );
    expect(Math.max(...gains[own("kick")]!)).toBeLessThan(0.05);
    expect(gains[own("oh")]!.every((g) => g === 1)).toBe(true);
  });
  test("gains stay between nothing and all for any energies, silence too", () => {
    for (const kick of [0, 1e-12, 1e3])
      for (const snare of [0, 1e-12, 1e3])
        for (const g of gainsFor({ kick, snare }))
          for (const v of g) expect(v >= 0 && v <= 1 + 1e-9).toBe(true);
  });
  test("nothing known, one drum alone: not usable", () => {
    expect(new Separation(song.mics, {}).usable).toBe(false);
    const alone = [song.mics[0]!];
    expect(
      new Separation(alone, {
        kick: [
          {
            usualDb: song.bleed["kick"]![0]!.usualDb,
            drums: { kick: new Array<number>(bleedBands).fill(0) },
          },
        ],
      }).usable,
    ).toBe(false);
  });
});
