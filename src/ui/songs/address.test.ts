import { expect, test } from "@jest/globals";
import { newSong } from "../../core/song/create";
import { testMic } from "../../core/testing/songs";
import { addressOf, placeIn } from "./address";

const song = newSong("where", 48000, [testMic("kick", "kick", "in", 10)]);

test("an address brings back the step with its mic or bus", () => {
  const places = [
    { step: "shape", mic: "kick", bus: null },
    { step: "blend", mic: null, bus: "kit" },
    { step: "deliver", mic: null, bus: null },
  ] as const;
  for (const place of places) expect(placeIn(addressOf(place), song)).toEqual(place);
});
test("what is not there is left out, and an address without a step names no place", () => {
  expect(placeIn("?step=shape&mic=gone&bus=%00", song)).toEqual({ step: "shape", mic: null, bus: null });
  expect(placeIn("?step=cook&mic=kick", song)).toBeNull();
  expect(placeIn("", song)).toBeNull();
});
