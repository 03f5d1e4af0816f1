import { describe, expect, test } from "@jest/globals";
import { writeMidi, type MidiEvent } from "midi-file";
import { AudioFileError } from "./sampleFormat";
import { isMidi } from "./midi";
import { readTempoMap } from "./tempoMap";

const file = (...events: MidiEvent[]): Uint8Array =>
  Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
      tracks: [[...events, { deltaTime: 0, type: "endOfTrack", meta: true }]],
    }),
  );
const tempo = (bpm: number, deltaTime = 0): MidiEvent => ({
  deltaTime,
  meta: true,
  type: "setTempo",
  microsecondsPerBeat: 6e7 / bpm,
});
const meter = (numerator: number, denominator: number): MidiEvent => ({
  deltaTime: 0,
  meta: true,
  type: "timeSignature",
  numerator,
  denominator,
  metronome: 24,
  thirtyseconds: 8,
});

describe("tempo maps", () => {
  test("one tempo: beats of its length up to the end of the song", () => {
    const map = readTempoMap(file(meter(3, 4), tempo(90)), 20);
    expect(map.tempo.bpm).toBeCloseTo(90, 3); // a tempo is told in whole microseconds
    expect(map.tempo.beatsPerBar).toBe(3);
    expect(map.tempo.beats.length).toBeGreaterThanOrEqual(30);
    expect(map.tempo.beats[29]).toBeCloseTo((29 * 60) / 90, 4);
  });
  // 8 beats of 0.5 s, then beats of 0.6 s: by the definition of the tempo event.
  test("a change of tempo holds from its place on", () => {
    const { beats } = readTempoMap(file(tempo(120), tempo(100, 8 * 480)), 10).tempo;
    expect(beats[8]).toBeCloseTo(4, 9);
    expect(beats[9]).toBeCloseTo(4.6, 9);
  });
  test("in 6/8 a beat is a dotted quarter, two to the bar", () => {
    const { tempo: found } = readTempoMap(file(meter(6, 8), tempo(180)), 10);
    expect(found.beatsPerBar).toBe(2);
    expect(found.bpm).toBeCloseTo(120, 3); // 180 quarters a minute are 120 dotted ones
  });
  test("markers are told with their times", () => {
    const map = readTempoMap(
      file(tempo(60), { deltaTime: 960, meta: true, type: "marker", text: "Pier" }),
      10,
    );
    expect(map.markers).toEqual([{ time: 2, name: "Pier" }]);
  });
  test("what is no MIDI file is refused with the reason", () => {
    const text = new TextEncoder().encode("MThd and then nonsense, long enough to be looked at");
    expect(isMidi(text)).toBe(true);
    expect(() => readTempoMap(text, 10)).toThrow(AudioFileError);
    expect(() => readTempoMap(file(tempo(120)), 0.2)).toThrow("no two beats");
  });
});
