import { expect, test } from "@jest/globals";
import { randomSource } from "../signal/random";
import { testMic } from "../testing/songs";
import { inKitOrder } from "./kitOrder";
import { newLayer } from "./layer";
import type { Piece, Place } from "./song";

const kit: [string, Piece, Place][] = [
  ["Kick in", "kick", "in"],
  ["Kick out", "kick", "out"],
  ["Kick sub", "kick", "sub"],
  ["Snare top", "snare", "top"],
  ["Snare btm", "snare", "bottom"],
  ["Tom 1", "tom1", "close"],
  ["Tom 2", "tom2", "close"],
  ["Floor", "floor", "close"],
  ["Hat", "hat", "close"],
  ["Ride", "ride", "close"],
  ["OH L", "overhead", "left"],
  ["OH R", "overhead", "right"],
  ["Room 2", "room", "pair"],
  ["Room 10", "room", "pair"],
  ["Clap", "sample", "close"],
  ["Bass", "context", "close"],
];
test("a layer stands last of its drum, whatever its file is called", () => {
  const layer = { ...testMic("A layer", "sample", "close", 10), layer: newLayer("snare", []) };
  const mics = [testMic("Tom 1", "tom1", "close", 10), layer, testMic("Snare btm", "snare", "bottom", 10)];
  expect(inKitOrder(mics).map((m) => m.id)).toEqual(["Snare btm", "A layer", "Tom 1"]);
});
test("whatever the order in which files came in, mics stand as a kit is read", () => {
  const mics = kit.map(([file, piece, place]) => testMic(file, piece, place, 10));
  const random = randomSource(4);
  for (let n = 0; n < 20; n++) {
    const came = [...mics].sort(() => random() - 0.5);
    const before = [...came];
    expect(inKitOrder(came).map((m) => m.id)).toEqual(kit.map(([file]) => file));
    expect(came).toEqual(before);
  }
});
