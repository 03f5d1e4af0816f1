import { expect, test } from "@jest/globals";
import { noFacts } from "../facts/facts";
import { knownDrum } from "../shape/tuning/retune";
import { tunedTo } from "../song/chainEdits";
import { newSong } from "../song/create";
import { kitOf } from "../song/graph";
import { testMic } from "../testing/songs";
import { roomDistance } from "./kitDistance";

const late = (id: string, frames: number, silent = false) => ({
  ...testMic(id, "room", "left", 100),
  lateBy: frames,
  silent,
});

test("room mics in which strokes arrive 10 ms later stand 3.43 m away", () => {
  const song = newSong("rooms", 48000, [
    testMic("snare", "snare", "top", 100),
    late("l", 480),
    late("r", 480),
  ]);
  expect(roomDistance(song)!.metres).toBeCloseTo(3.43, 9);
  expect(roomDistance(song)!.mics.map((m) => m.id)).toEqual(["l", "r"]);
});
test("a reverb that comes in stands as far away; without room mics it has its own distance", () => {
  const song = newSong("rooms", 44100, [late("l", 882)]);
  expect(tunedTo("reverb", knownDrum(song, noFacts, kitOf(song)))).toEqual({ distance: 6.86 });
  const bare = newSong("bare", 44100, [testMic("oh", "overhead", "pair", 100, 2), late("dead", 882, true)]);
  expect(roomDistance(bare)).toBeNull();
  expect(tunedTo("reverb", knownDrum(bare, noFacts, kitOf(bare)))).toEqual({});
});
