import { describe, expect, test } from "@jest/globals";
import { applyAll } from "../core/song/operations";
import { addedProcessor } from "../core/song/chainEdits";
import { testSong } from "../core/testing/songs";
import { setPath } from "./setPath";

const { song: plain } = testSong();
const song = applyAll(plain, [addedProcessor(plain.mics[0]!, "eq").operation]);
const kick = (s: typeof song) => s.mics[0]!;

describe("a path and a value", () => {
  test("parameters, also of the second of a kind; switches; keys", () => {
    const second = setPath(song, "kick.eq2.bell1Gain", "4");
    expect(
      kick(second)
        .chain.filter((p) => p.type === "eq")
        .map((p) => p.params["bell1Gain"]),
    ).toEqual([0, 4]);
    expect(kick(setPath(song, "kick.wav.gate.on", "true")).chain.find((p) => p.type === "gate")!.on).toBe(
      true,
    );
    expect(kick(setPath(song, "kick.gate.key", "snare")).chain.find((p) => p.type === "gate")!.key).toBe(
      "snare",
    );
    const none = setPath(setPath(song, "kick.gate.key", "snare"), "kick.gate.key", "none");
    expect(kick(none).chain.find((p) => p.type === "gate")).not.toHaveProperty("key");
  });
  test("levels, ways and sends of mics and buses", () => {
    expect(kick(setPath(song, "kick.level", "-3.5")).level).toBe(-3.5);
    expect(kick(setPath(song, "kick.output", "Room")).output).toBe("room");
    expect(setPath(song, "kit.width", "50").buses.at(-1)!.width).toBe(50);
    const sent = setPath(song, "kick.send.squash", "-6");
    expect(kick(sent).sends).toEqual([{ bus: "squash", level: -6, from: "fader", followsPan: true }]);
    expect(kick(setPath(sent, "kick.send.squash", "off")).sends).toEqual([]);
  });
  test("faders that move over the song, and what differs by section", () => {
    const moved = setPath(song, "kick.moves", "4:-3, 0:0.5");
    expect(kick(moved).levelMoves).toEqual([
      { time: 0, db: 0.5 },
      { time: 4, db: -3 },
    ]);
    expect(kick(setPath(moved, "kick.moves", "none")).levelMoves).toEqual([]);
    const verse = applyAll(song, [
      { op: "setSong", values: { sections: [{ id: "v1", name: "Verse", from: 0, to: 1 }] } },
    ]);
    const quiet = setPath(setPath(verse, "kick.level@Verse", "-6"), "kick.gate.range@v1", "12");
    expect(kick(quiet)).toMatchObject({ level: 0, levelBySection: { v1: -6 } });
    const gate = (s: typeof song) => kick(s).chain.find((p) => p.type === "gate")!;
    expect(gate(quiet).bySection).toEqual({ v1: { range: 12 } });
    expect(gate(quiet).params).toEqual(gate(verse).params);
    const back = setPath(setPath(quiet, "kick.level@Verse", "as song"), "kick.gate.range@Verse", "as song");
    expect(kick(back).levelBySection).toEqual({});
    expect(gate(back).bySection ?? {}).toEqual({});
    expect(() => setPath(verse, "kick.muted@Verse", "true")).toThrow(/muted is the same in the whole song/);
  });
  test.each([
    ["kick.level@Chorus", "0", /no section "Chorus"; there are none/],
    ["kick.moves", "1:0,2", /"2" is no point; it takes SECONDS:DB/],
    ["kick.moves", "-1:0", /kick.moves: /],
    ["kick.moves", "1:99", /kick.moves: /],
    ["kick.level", "99", /kick.level: .*level is 99; it must be a number between -100 and 24 dB/],
    ["tuba.level", "0", /no mic or bus "tuba"/],
    ["kick.reverb.mix", "0", /has no processor "reverb"; it has .*eq, .*eq2/],
    ["kick.output", "nowhere", /no bus "nowhere"; there are squash/],
    ["kit.output", "room", /the kit is the end/],
    ["grit.output", "grit", /wait for each other/],
    ["kick.eq.key", "snare", /has no detector/],
  ])("%s=%s is refused and says why", (path, text, reason) => {
    expect(() => setPath(song, path, text)).toThrow(reason);
  });
});
