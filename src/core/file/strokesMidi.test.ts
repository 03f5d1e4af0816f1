import { describe, expect, test } from "@jest/globals";
import { writeMidi } from "midi-file";
import { readMidiKeys } from "./strokesMidi";

/** A file of notes, 480 ticks a quarter at 120 bpm: a tick is 1/960 s. */
function file(
  notes: readonly { tick: number; channel: number; noteNumber: number; velocity: number }[],
): Uint8Array {
  let last = 0;
  const track = notes.map(({ tick, ...note }) => {
    const deltaTime = tick - last;
    last = tick;
    return { ...note, deltaTime, type: "noteOn" as const };
  });
  return Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
      tracks: [[...track, { deltaTime: 0, meta: true, type: "endOfTrack" }]],
    }),
  );
}
const note = (tick: number, noteNumber: number, velocity = 100, channel = 9) => ({
  tick,
  channel,
  noteNumber,
  velocity,
});

describe("strokes of a MIDI file by their keys", () => {
  test("keys are listed by how often they are struck, percussion by its General MIDI name", () => {
    const keys = readMidiKeys(file([note(0, 38), note(480, 36), note(960, 36), note(1440, 60, 100, 0)]));
    expect(keys.map((k) => [k.name, k.strokes.length])).toEqual([
      ["Bass drum 1", 2],
      ["Acoustic snare", 1],
      ["Note 60", 1],
    ]);
    expect(keys[0]!.strokes.map((s) => s.time)).toEqual([0.5, 1]);
  });
  test("a note that ends is none, half the velocity is 12 dB softer and a ghost note", () => {
    const [key] = readMidiKeys(
      file([note(0, 38, 120), note(100, 38, 0), note(480, 38, 120), note(960, 38, 60)]),
    );
    expect(key!.strokes).toHaveLength(3);
    const [loud, , soft] = key!.strokes;
    // The square of the velocity as amplitude: 40 log10(2) = 12.04 dB.
    expect(loud!.levelDb - soft!.levelDb).toBeCloseTo(12.04, 2);
    expect(key!.strokes.map((s) => s.ghost)).toEqual([false, false, true]);
  });
  test.each([
    ["no notes", file([]), "holds no notes"],
    ["no MIDI", new TextEncoder().encode("RIFF...."), ""],
    ["a file that breaks off", file([note(0, 38)]).slice(0, 20), ""],
  ])("%s is refused in words", (_, bytes, words) => {
    expect(() => readMidiKeys(bytes)).toThrow(words);
  });
});
