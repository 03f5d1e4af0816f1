import { expect, test } from "@jest/globals";
import { steadyTempo } from "../testing/tempo";
import { testSong } from "../testing/songs";
import { applyOperation, type Operation } from "./operations";

const { song } = testSong(1000);
const send = { bus: "room", level: 0, from: "fader", followsPan: true } as const;

// What could be asked twice in one operation, and would be there twice after it or after its undo.
test.each<[string, Operation, RegExp]>([
  ["a mic taken out", { op: "removeMics", mics: ["kick", "kick"] }, /"kick" twice/],
  ["a bus taken out", { op: "removeBuses", buses: ["room", "room"] }, /"room" twice/],
  ["a place in the order", { op: "removeMics", mics: ["kick"], order: ["oh", "oh"] }, /"oh" twice/],
  ["a send to one bus", { op: "setSends", owner: "kick", sends: [send, send] }, /"room" twice/],
])("%s twice is refused", (_, operation, message) => {
  expect(() => applyOperation(song, operation)).toThrow(message);
});

const withBeats = (beats: number[]): Operation => ({
  op: "setSong",
  values: { tempo: { ...steadyTempo(120, 0), beats } },
});
test.each([[[0, 1e-300, 2e-300]], [[0, 0.5, 0.5]], [[0, 0.5, 0.4]], [[0, 0.019, 1]]])(
  "beats that do not ascend as music does are refused with their place: %j",
  (beats) => {
    expect(() => applyOperation(song, withBeats(beats))).toThrow(
      /beats\[\d\] is .* ascend by at least 0.02 s/,
    );
    expect(() => applyOperation(song, withBeats([0, 0.5, 1.1]))).not.toThrow();
  },
);
