import { describe, expect, test } from "@jest/globals";
import { noFacts, type Facts } from "../facts/facts";
import { pairGains } from "../facts/pairGains";
import { isDecided, isTaken } from "../proposals/decided";
import { dbToPower, powerToDb } from "../signal/level";
import { newProcessor, newSong } from "../song/create";
import { applyAll } from "../song/operations";
import type { Mic, Piece, Place, Song } from "../song/song";
import { testMic } from "../testing/songs";
import { balanceOf, balanceTargets, chainGain } from "./balance";
import { proposeBalance } from "./proposeBalance";

type Heard = Partial<Record<Piece, number>>;
/** A kit of mics with what was heard in each, dB. */
function kit(mics: Record<string, [Piece, Place, Heard, number?]>): { song: Song; facts: Facts } {
  const made = Object.entries(mics).map(([id, [piece, place]]) => testMic(id, piece, place, 1000));
  const heardStrokes = Object.fromEntries(
    Object.entries(mics).map(([id, [, , heard, together]]) => [id, { heard, together: together ?? null }]),
  );
  return { song: newSong("kit", 48000, made), facts: { ...noFacts, heardStrokes } };
}
const usual: Parameters<typeof kit>[0] = {
  kick: ["kick", "in", { kick: -14 }],
  snare: ["snare", "top", { snare: -20 }],
  bottom: ["snare", "bottom", { snare: -17 }, 0],
  rack: ["tom1", "close", { tom1: -30 }],
  hat: ["hat", "close", { hat: -25 }],
  left: ["overhead", "left", { kick: -36, snare: -30, tom1: -33, hat: -38, crash: -24 }],
  right: ["overhead", "right", { kick: -36, snare: -30, tom1: -34, hat: -42, crash: -25 }],
  room: ["room", "pair", { kick: -30, snare: -28, tom1: -31 }],
};
/** What a drum comes to in the kit: powers of all its mics behind their faders, by hand. */
const summed = (
  mics: Parameters<typeof kit>[0],
  faders: Readonly<Record<string, number>>,
  piece: Piece,
): number =>
  powerToDb(
    Object.entries(mics).reduce(
      (sum, [id, [, , heard]]) =>
        sum + (heard[piece] === undefined ? 0 : dbToPower(heard[piece] + faders[id]!)),
      0,
    ),
  );

describe("balance", () => {
  const { song, facts } = kit(usual);
  const { faders, drums } = balanceOf(song, facts)!;
  const against = (piece: Piece) => summed(usual, faders, piece) - summed(usual, faders, "snare");

  test.each(["kick", "tom1", "hat"] as const)(
    "all mics of the %s together are as loud against the snare as the list says",
    (piece) => {
      expect(against(piece)).toBeCloseTo(balanceTargets[piece]!, 0);
    },
  );
  test("the snare's main mic stays where it is, its bottom mic 8 dB under it", () => {
    expect(faders["snare"]).toBe(0);
    expect(usual["bottom"]![2].snare! + faders["bottom"]! - usual["snare"]![2].snare!).toBeCloseTo(-8, 1);
  });
  test("a drum's own mics carry it: no more than half of its power lies in the overheads, and the rooms are behind", () => {
    for (const piece of ["kick", "snare", "tom1"] as const) {
      const overheads = powerToDb(
        dbToPower(usual["left"]![2][piece]! + faders["left"]!) +
          dbToPower(usual["right"]![2][piece]! + faders["right"]!),
      );
      expect(overheads).toBeLessThan(summed(usual, faders, "snare") + balanceTargets[piece]! - 2.9);
      expect(usual["room"]![2][piece]! + faders["room"]!).toBeLessThan(summed(usual, faders, "snare") - 11.9);
    }
  });
  test("what it says of a drum is what its faders give", () => {
    for (const { piece, loudness, far } of drums) {
      expect(loudness).toBeCloseTo(summed(usual, faders, piece), 0);
      expect(far).toBeLessThanOrEqual(loudness + 1e-9);
    }
    expect(drums.map((d) => d.piece).sort()).toEqual(["crash", "hat", "kick", "snare", "tom1"]);
  });
  test("second mics that are like the main one add up as amplitudes, so that less of both is needed", () => {
    const of = (together: number) => {
      const made = kit({ ...usual, out: ["kick", "out", { kick: -20 }, together] });
      return balanceOf(made.song, made.facts)!.faders["kick"]!;
    };
    // 5 dB under the main one: powers give 1 + 10^-0.5, amplitudes (1 + 10^-0.25)².
    const apart = 10 * Math.log10((1 + 10 ** -0.25) ** 2 / (1 + 10 ** -0.5));
    expect(of(0) - of(1)).toBeCloseTo(apart, 0);
    expect(of(-0.9)).toBeGreaterThan(of(0));
  });
  test("a gain anywhere in a chain changes nothing of what comes out", () => {
    const trimmed = applyAll(song, [
      { op: "setProcessor", owner: "kick", processor: "kick.trim", on: true, params: { gain: 5 } },
      { op: "setProcessor", owner: "room", processor: "room.trim", on: true, params: { gain: -4 } },
    ]);
    const again = balanceOf(trimmed, facts)!.faders;
    expect(again["kick"]).toBeCloseTo(faders["kick"]! - 5, 1);
    expect(again["room"]).toBeCloseTo(faders["room"]! + 4, 1);
    expect(again["hat"]).toBeCloseTo(faders["hat"]!, 1);
  });
  test("what a compressor and a rounding took for loud strokes is given back", () => {
    const flavour = { compressor: { lowered: 2 }, rounding: { lowered: 1.5 } };
    const shaped = {
      ...facts,
      shapes: { kick: { modern: flavour, vintage: { compressor: null, rounding: null } } },
    } as unknown as Facts;
    const kick = {
      ...song.mics[0]!,
      chain: [newProcessor("kick", "compressor", true), newProcessor("kick", "saturation", true)],
    };
    expect(chainGain(song, shaped, kick)).toBe(-3.5);
    expect(chainGain({ shaping: { ...song.shaping, flavour: "vintage" } }, shaped, kick)).toBe(0);
    expect(chainGain(song, shaped, { ...kick, chain: kick.chain.map((p) => ({ ...p, on: false })) })).toBe(0);
  });

  test("faders stay between -24 and +10 dB, whatever was recorded", () => {
    const odd = kit({ ...usual, kick: ["kick", "in", { kick: -70 }], hat: ["hat", "close", { hat: 10 }] });
    const { faders: put, drums: told } = balanceOf(odd.song, odd.facts)!;
    expect([put["kick"], put["hat"]]).toEqual([10, -24]);
    // And what is told of them is what they reach so, not what was wanted.
    expect(told.find((d) => d.piece === "hat")!.loudness).toBeGreaterThan(-14.1);
    expect(told.find((d) => d.piece === "kick")!.loudness).toBeLessThan(-25);
  });
  test("muted, silent and unplayed mics, triggers, layers and other music are left alone", () => {
    const made = kit({
      ...usual,
      pad: ["snare", "trigger", { snare: -5 }],
      clap: ["sample", "close", {}],
      bass: ["context", "close", {}],
      sub: ["kick", "sub", { kick: -9 }],
    });
    const changed: Song = {
      ...made.song,
      mics: made.song.mics.map((m): Mic =>
        m.id === "sub" ? { ...m, muted: true } : m.id === "hat" ? { ...m, unplayed: true } : m,
      ),
    };
    const put = balanceOf(changed, made.facts)!.faders;
    expect(Object.keys(put).sort()).toEqual(["bottom", "kick", "left", "rack", "right", "room", "snare"]);
  });
  test("without a snare the first shell is what the others are set against; without a shell there is no balance", () => {
    const { snare: _, bottom: _b, ...rest } = usual;
    const made = kit(rest);
    expect(balanceOf(made.song, made.facts)!.faders["kick"]).toBe(0);
    const far = kit({ left: usual["left"]!, hat: usual["hat"]! });
    expect(balanceOf(far.song, far.facts)).toBeNull();
    expect(balanceOf(song, noFacts)).toBeNull();
  });
  test("far mics in which no shell was told apart stay where they are", () => {
    const deaf = kit({
      kick: usual["kick"]!,
      snare: usual["snare"]!,
      room: ["room", "pair", { crash: -30 }],
    });
    expect(balanceOf(deaf.song, deaf.facts)!.faders["room"]).toBe(0);
  });
  test("without cymbals the overheads come in until the shells' own mics just carry them; without far mics there is nothing to bring in", () => {
    const dry = kit({ kick: usual["kick"]!, snare: usual["snare"]! });
    const put = balanceOf(dry.song, dry.facts)!;
    expect(put.faders).toEqual({ kick: -6, snare: 0 });
    const only = kit({
      kick: usual["kick"]!,
      snare: usual["snare"]!,
      over: ["overhead", "pair", { kick: -40, snare: -30 }],
    });
    const { faders: f, drums: d } = balanceOf(only.song, only.facts)!;
    expect(-30 + f["over"]!).toBeCloseTo(d.find((x) => x.piece === "snare")!.loudness - 3, 0);
  });
});

describe("sides of a pair", () => {
  const { song, facts } = kit(usual);
  const louder = (by: number, side = "left"): Facts => ({
    ...facts,
    heardStrokes: {
      ...facts.heardStrokes,
      [side]: {
        together: null,
        heard: Object.fromEntries(Object.entries(usual[side]![2]).map(([p, db]) => [p, db + by])),
      },
    },
  });
  test("both are to hear snare and kick alike; what else they hear does not matter", () => {
    expect(pairGains(song.mics, facts)).toEqual({ left: -0, right: 0 });
    expect(pairGains(song.mics, louder(4))).toEqual({ left: -2, right: 2 });
  });
  test("a mixer's unequal gains come out in the faders", () => {
    const { faders } = balanceOf(song, louder(4))!;
    expect(faders["left"]! - faders["right"]!).toBeCloseTo(-4, 1);
  });
  test("sides that have nothing in common, one side alone and pairs in one file are left as they are", () => {
    expect(pairGains(song.mics, louder(20))).toEqual({});
    expect(
      pairGains(
        song.mics.filter((m) => m.id !== "left"),
        facts,
      ),
    ).toEqual({});
    expect(pairGains(song.mics, noFacts)).toEqual({});
    expect(
      pairGains(
        song.mics.map((m) => ({ ...m, silent: m.id === "right" })),
        facts,
      ),
    ).toEqual({});
  });
});

describe("the balance as proposals", () => {
  const { song, facts } = kit(usual);
  const proposals = proposeBalance(song, facts);
  test("one a drum, one for the overheads, one for the rooms; each says what its faders do", () => {
    expect(proposals.map((p) => [p.id, p.owner])).toEqual([
      ["balance:kick", "kick"],
      ["balance:snare", "snare"],
      ["balance:tom1", "rack"],
      ["balance:hat", "hat"],
      ["balance:overheads", "left"],
      ["balance:rooms", "room"],
    ]);
    const { faders } = balanceOf(song, facts)!;
    const kick = proposals[0]!;
    expect(kick.sentence).toMatch(/^Set the kick as loud as the snare, over its strokes; \d+ % of its power/);
    expect(kick.figure).toBe(`−${(-faders["kick"]!).toFixed(1)} dB`);
    const cardOf = (id: string) => proposals.find((p) => p.id === `balance:${id}`)!;
    expect(cardOf("hat").sentence).toContain("Set the hat to 12 dB under the snare");
    expect(cardOf("tom1").sentence).toContain("Set tom 1 to 1 dB under the snare");
    expect(cardOf("snare").figure).toBe(`top +0.0, bottom −${(-faders["bottom"]!).toFixed(1)} dB`);
    expect(cardOf("snare").sentence).toContain("its second mics under the main one");
    const { bottom: _, ...single } = usual;
    const one = kit(single);
    const alone = proposeBalance(one.song, one.facts).find((p) => p.id === "balance:snare")!;
    expect(alone.sentence).toContain("Leave the snare where it is, and set the others against it");
    expect(cardOf("overheads").figure).toMatch(/^[+−]\d+\.\d dB$/); // both sides alike
  });
  test("taken all, none is open, and the next ones move nothing", () => {
    const taken = applyAll(
      song,
      proposals.map((p) => p.operation),
    );
    for (const p of proposals) expect(isTaken(taken, p)).toBe(true);
    for (const p of proposeBalance(taken, facts)) expect(isTaken(taken, p)).toBe(true);
  });
  test("a fader that was moved by hand is somebody's: no more is asked of that drum, and of others still", () => {
    const moved = applyAll(song, [{ op: "setMic", mic: "kick", values: { level: -2 } }]);
    const now = proposeBalance(moved, facts);
    expect(
      isDecided(
        moved,
        now.find((p) => p.id === "balance:kick")!,
      ),
    ).toBe(true);
    expect(
      isDecided(
        moved,
        now.find((p) => p.id === "balance:hat")!,
      ),
    ).toBe(false);
  });
});
