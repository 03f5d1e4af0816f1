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
    expect(kick(second).chain.filter((p) => p.type === "eq").map((p) => p.params["bell1Gain"])).toEqual([0, 4]);
    expect(kick(setPath(song, "kick.wav.gate.on", "true")).chain.find((p) => p.type === "gate")!.on).toBe(true);
    expect(kick(setPath(song, "kick.gate.key", "snare")).chain.find((p) => p.type === "gate")!.key).toBe("snare");
    const none = setPath(setPath(song, "kick.gate.key", "snare"), "kick.gate.key", "none");
    expect(kick(none).chain.find((p) => p.type === "gate")).not.toHaveProperty("key");
  }); // prettier-ignore
  test("levels, ways and sends of mics and buses", () => {
    expect(kick(setPath(song, "kick.level", "-3.5")).level).toBe(-3.5);
    expect(kick(setPath(song, "kick.output", "Room")).output).toBe("room");
    expect(setPath(song, "kit.width", "50").buses.at(-1)!.width).toBe(50);
    const sent = setPath(song, "kick.send.squash", "-6");
    expect(kick(sent).sends).toEqual([{ bus: "squash", level: -6, from: "fader", followsPan: true }]);
    expect(kick(setPath(sent, "kick.send.squash", "off")).sends).toEqual([]);
  });
  test.each([
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
