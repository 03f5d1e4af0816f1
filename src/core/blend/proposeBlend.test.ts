import { describe, expect, test } from "@jest/globals";
import { noFacts } from "../facts/facts";
import { firstOf, newSong } from "../song/create";
import { kitOf } from "../song/graph";
import { applyAll } from "../song/operations";
import { isTaken } from "../proposals/decided";
import { takeTogether } from "../proposals/takeTogether";
import { withoutBus } from "../song/routes";
import type { Mic, Song } from "../song/song";
import { testMic } from "../testing/songs";
import { kitCeiling, proposeBlend } from "./proposeBlend";

const mics: Mic[] = [
  testMic("kick", "kick", "in", 100),
  testMic("snare", "snare", "top", 100),
  { ...testMic("bottom", "snare", "bottom", 100), reference: "snare" },
  testMic("hat", "hat", "close", 100),
  testMic("oh", "overhead", "pair", 100, 2),
  { ...testMic("tom", "tom1", "close", 100), unplayed: true },
  { ...testMic("dead", "floor", "close", 100), silent: true },
];
const song = newSong("blend", 48000, mics);
const of = (s: Song) => proposeBlend(s, noFacts);
const taken = (s: Song) => applyAll(s, takeTogether(s, of(s)));
const sendsOf = (s: Song, mic: string) =>
  s.mics.find((m) => m.id === mic)!.sends.map((x) => [x.bus, x.level, x.from]);

describe("parallel paths", () => {
  test("the shells go to compression at unity, without the kick to saturation and, before their faders, to the room", () => {
    const after = taken(song);
    expect(sendsOf(after, "kick")).toEqual([["squash", 0, "fader"]]);
    expect(sendsOf(after, "snare")).toEqual([
      ["squash", 0, "fader"],
      ["grit", 0, "fader"],
      ["room", -6, "chain"],
    ]);
    expect(sendsOf(after, "bottom")[2]).toEqual(["room", -12, "chain"]);
  });
  test("cymbals, far mics and what was never played go to none", () => {
    const after = taken(song);
    for (const mic of ["hat", "oh", "tom", "dead"]) expect(sendsOf(after, mic)).toEqual([]);
  });
  test("the paths are opened with it; before, they are muted", () => {
    const muted = (s: Song) =>
      s.buses.filter((b) => ["squash", "grit", "room"].includes(b.id)).map((b) => b.muted);
    expect(muted(song)).toEqual([true, true, true]);
    expect(muted(taken(song))).toEqual([false, false, false]);
  });
  test("sends to other buses stay, and a path that was taken out is not asked for", () => {
    const busy = applyAll(song, [
      {
        op: "setSends",
        owner: "kick",
        sends: [{ bus: "room", level: -20, from: "chain", followsPan: false }],
      },
      ...withoutBus(song, "grit"),
    ]);
    const after = taken(busy);
    expect(sendsOf(after, "kick")).toEqual([
      ["room", -20, "chain"],
      ["squash", 0, "fader"],
    ]);
    expect(sendsOf(after, "snare").map(([bus]) => bus)).toEqual(["squash", "room"]);
  });
  test("without any path only the kit is spoken of", () => {
    const bare = ["squash", "grit", "room"].reduce((s, id) => applyAll(s, withoutBus(s, id)), song);
    expect(of(bare).map((p) => p.id)).toEqual(["blend:kit", "blend:peaks", "blend:mute"]);
  });
});

describe("the kit", () => {
  test("is held together by a slow 2:1, and its peaks end below full scale by EBU R 128's -1 dBTP", () => {
    const kit = kitOf(taken(song));
    expect(firstOf(kit, "compressor")).toMatchObject({ on: true, params: { ratio: 2 } });
    expect(firstOf(kit, "limiter")).toMatchObject({ on: true, params: { ceiling: kitCeiling } });
    expect(kitCeiling).toBe(-1);
    expect(kit.chain.at(-1)!.type).toBe("limiter");
  });
  test("what is silent or never played is muted, and named", () => {
    const mute = of(song).find((p) => p.id === "blend:mute")!;
    expect(mute.sentence).toContain("tom.wav, dead.wav");
    expect(mute.figure).toBe("2 mics");
    expect(
      taken(song)
        .mics.filter((m) => m.muted)
        .map((m) => m.id),
    ).toEqual(["tom", "dead"]);
  });
  test("taken all, nothing is open; without shells there is nothing to propose", () => {
    const after = taken(song);
    for (const p of of(after)) expect(isTaken(after, p)).toBe(true);
    expect(of({ ...song, mics: mics.filter((m) => m.piece === "overhead") })).toEqual([]);
  });
});
