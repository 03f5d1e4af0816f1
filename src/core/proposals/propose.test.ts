import { describe, expect, test } from "@jest/globals";
import { applyAll, applyOperation } from "../song/operations";
import type { Song } from "../song/song";
import { testMic, testSong } from "../testing/songs";
import { isDecided, isTaken } from "./decided";
import { noFacts, type Facts } from "../facts/facts";
import type { ShapedDrum } from "../facts/shapedDrum";
import { turnQuick } from "../shape/quick/turnQuick";
import { asProposed } from "./asProposed";
import { changeFlavour } from "./changeFlavour";
import { proposeStep } from "./propose";
import { takeTogether } from "./takeTogether";

const base = testSong().song;
const song: Song = {
  ...base,
  mics: [
    ...base.mics,
    { ...testMic("bottom", "snare", "bottom", 20000), reference: "snare" },
    { ...testMic("tom", "tom1", "close", 20000), unplayed: true },
  ],
};
const levels = { hits: [-14, -13, -15], ghosts: [-34], bleed: [-40, -41] };
const shaped = (threshold: number, more: Partial<ShapedDrum> = {}): ShapedDrum => ({
  eq: { bell1Frequency: 190, bell1Gain: 2.5, bell4Gain: 3 },
  changed: { weight: 2.1, box: -0.2, stick: 2.8, air: 0.1 },
  compressor: { threshold, ratio: 4, attack: 0.004, release: 0.1, makeup: 2, reductionDb: 4, lowered: 0 },
  rounding: { drive: 6, output: -6, peakDb: -3, lowered: 1.2 },
  stroke: { before: [-12, -40], after: [-10, -42] },
  strokes: 20,
  ...more,
});
const inFlavours = (threshold: number) => ({
  modern: shaped(threshold),
  vintage: shaped(threshold + 2, { eq: { bell1Gain: 1 } }),
  natural: shaped(threshold + 6, { rounding: null }),
});
const facts: Facts = {
  ...noFacts,
  pairs: {
    bottom: {
      polarity: -1,
      delaySamples: -5.4,
      confidence: 0.9,
      gainDb: 8,
      strokes: 40,
      thin: false,
      driftPpm: 0,
    },
  },
  levels: { kick: { ...levels, ghosts: [] }, snare: levels, bottom: levels },
  tone: { snare: { fundamental: 190, ring: 3120, ringDb: 14 } },
  shapes: { kick: inFlavours(-22), snare: inFlavours(-24) },
  arrivals: {
    oh: (["kick", "snare"] as const).flatMap((piece) =>
      [0, 1].map((channel) => ({
        piece,
        channel,
        delaySamples: 150,
        polarity: -1 as const,
        confidence: 0.9,
      })),
    ),
  },
};
const of = (s: Song, step: Parameters<typeof proposeStep>[2], id: string) => {
  const found = proposeStep(s, facts, step).find((p) => p.id === id);
  if (!found) throw new Error(`no proposal ${id}`);
  return found;
};
const take = (s: Song, step: Parameters<typeof proposeStep>[2], id: string) =>
  applyOperation(s, of(s, step, id).operation).song;
const params = (s: Song, mic: string, type: string) =>
  s.mics.find((m) => m.id === mic)!.chain.find((p) => p.type === type)!.params;

describe("proposals", () => {
  test("trims bring the median stroke to -10 dBFS (common practice), and leave unplayed mics alone", () => {
    expect(params(take(song, "gather", "trim:snare"), "snare", "trim")["gain"]).toBeCloseTo(4, 1);
    expect(proposeStep(song, facts, "gather").some((p) => p.owner === "tom")).toBe(false);
  });
  test("a second mic is turned over and moved against its measured delay; an inverted far mic turned over", () => {
    const aligned = take(song, "align", "align:bottom");
    expect(params(aligned, "bottom", "polarity")["polarity"]).toBe("inverted");
    // Whole frames are proposed: nothing is interpolated.
    expect(params(aligned, "bottom", "delay")["delay"]).toBe(5);
    expect(params(take(song, "align", "align:oh"), "oh", "polarity")["polarity"]).toBe("inverted");
  });
  test("thresholds follow the trim, which the gate and the compressor hear", () => {
    const trimmed = take(song, "gather", "trim:kick");
    const gain = params(trimmed, "kick", "trim")["gain"] as number;
    for (const [step, id, type] of [
      ["clean", "clean:kick", "gate"],
      ["shape", "compressor:kick", "compressor"],
    ] as const) {
      const before = params(take(song, step, id), "kick", type)["threshold"] as number;
      const after = params(take(trimmed, step, id), "kick", type)["threshold"] as number;
      expect(Math.abs(after - before - gain)).toBeLessThanOrEqual(0.5);
    }
  });
  test("the ring that was measured is cut, the fundamental lifted", () => {
    const p = params(take(song, "shape", "eq:snare"), "snare", "eq");
    expect(p).toMatchObject({ bell3Frequency: 3120, bell1Frequency: 190 });
    expect(p["bell3Gain"]).toBeLessThan(0);
  });
  test("every proposal of every step can be taken, is then in force, and can be undone", () => {
    let now = song;
    for (const step of ["gather", "align", "clean", "shape", "blend"] as const)
      for (const p of proposeStep(now, facts, step)) {
        expect(isDecided(now, p) && !isTaken(now, p)).toBe(false);
        const { song: taken, inverse } = applyOperation(now, p.operation);
        expect(isTaken(taken, p)).toBe(true);
        expect(applyOperation(taken, inverse).song).toEqual(now);
        now = taken;
      }
  });
  test("refused or set by hand needs no decision any more", () => {
    const p = of(song, "clean", "clean:kick");
    expect(isDecided(song, p)).toBe(false);
    expect(isDecided({ ...song, refused: [p.id] }, p)).toBe(true);
    const byHand = applyOperation(song, {
      op: "setProcessor",
      owner: "kick",
      processor: "kick.gate",
      on: true,
      params: { threshold: -50 },
    }).song;
    expect([isTaken(byHand, p), isDecided(byHand, p)]).toEqual([false, true]);
  });
});

test("a card says how loud it is behind its processor, and what comes up between the strokes", () => {
  expect(of(song, "shape", "compressor:kick").sentence).toContain("behind its EQ, as loud as before");
  expect(of(song, "shape", "saturation:snare").sentence).toContain("1.2 dB quieter, for its loudest stroke");
  const lifted = inFlavours(-22);
  const more = {
    ...facts,
    shapes: {
      kick: { ...lifted, modern: shaped(-22, { compressor: { ...lifted.modern.compressor!, makeup: 4.2 } }) },
    },
  };
  const [card] = proposeStep(song, more, "shape").filter((p) => p.id === "compressor:kick");
  expect(card!.sentence).toContain("What lies between them comes up by 4.2 dB.");
});

describe("another flavour", () => {
  const types = (s: Song, mic: string) =>
    s.mics
      .find((m) => m.id === mic)!
      .chain.filter((p) => p.on)
      .map((p) => p.type);
  const shapedSong = applyAll(song, takeTogether(song, proposeStep(song, facts, "shape")));

  test("as proposed: a drum as the flavour has it, whatever it is now, its quick controls silent; others stay", () => {
    const quiet = {
      values: { weight: 50, stick: 0, air: 0, density: 0 },
      basis: {
        fundamental: 190,
        stick: 3900,
        air: 8000,
        thresholds: [-20, -22, -24, -26],
        louder: { weight: [0, 0, 0, 0], stick: [0, 0, 0, 0], air: [0, 0, 0, 0], density: [0, 0, 0, 0] },
        strokes: 20,
      },
      louder: 1,
    };
    const turned = applyOperation(
      song,
      turnQuick(
        song,
        song.mics.find((m) => m.id === "snare")!,
        quiet,
      ),
    ).song;
    const other = asProposed(turned, facts, "snare", "vintage");
    expect(types(other, "snare")).toEqual(expect.arrayContaining(["eq", "compressor"]));
    expect(
      other.mics
        .find((m) => m.id === "snare")!
        .chain.filter((p) => p.id.includes("quick"))
        .map((p) => p.on),
    ).toEqual([false, false, false]);
    expect(params(other, "snare", "compressor")["threshold"]).toBe(-22);
    expect(other.mics.find((m) => m.id === "kick")).toBe(turned.mics.find((m) => m.id === "kick"));
    expect(types(asProposed(turned, facts, null, "modern"), "kick")).toContain("compressor");
  });
  test("takes what was taken as it is in it, takes back what it does not set, switches off what it does without", () => {
    const vintage = applyOperation(shapedSong, changeFlavour(shapedSong, facts, null, "vintage")).song;
    expect(params(vintage, "snare", "eq")).toMatchObject({
      bell1Gain: 1,
      bell4Gain: 0,
      bell3Frequency: 3120,
    });
    expect(params(vintage, "kick", "compressor")["threshold"]).toBe(-20);
    const natural = applyOperation(vintage, changeFlavour(vintage, facts, "snare", "natural")).song;
    expect(types(natural, "snare")).not.toContain("saturation");
    expect(types(natural, "kick")).toContain("saturation");
    expect(natural.shaping).toMatchObject({ flavour: "vintage", byPiece: { snare: "natural" } });
    for (const p of proposeStep(natural, facts, "shape"))
      expect([p.id, isTaken(natural, p)]).toEqual([p.id, true]);
    const back = applyOperation(natural, changeFlavour(natural, facts, null, "modern")).song;
    expect(back.mics).toEqual(shapedSong.mics);
  });
  test("leaves alone what was set otherwise by hand and what was refused, and is one step to undo", () => {
    const byHand = applyAll(shapedSong, [
      { op: "setProcessor", owner: "kick", processor: "kick.compressor", params: { threshold: -33 } },
    ]);
    const operation = changeFlavour(byHand, facts, null, "vintage");
    const { song: now, inverse } = applyOperation(byHand, operation);
    expect(params(now, "kick", "compressor")["threshold"]).toBe(-33);
    expect(params(now, "snare", "compressor")["threshold"]).toBe(-22);
    expect(applyOperation(now, inverse).song).toEqual(byHand);
  });
  test("before anything is taken only the proposals change", () => {
    const vintage = applyOperation(song, changeFlavour(song, facts, null, "vintage")).song;
    expect(vintage.mics).toEqual(song.mics);
    expect(take(vintage, "shape", "compressor:kick").mics).not.toEqual(
      take(song, "shape", "compressor:kick").mics,
    );
  });
});
