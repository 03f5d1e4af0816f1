import { describe, expect, test } from "@jest/globals";
import type { Hit } from "../song/song";
import { delayed } from "../signal/fractionalDelay";
import { noise } from "../testing/signals";
import { everyHalfSecond, strokes } from "../testing/strokes";
import { clearStrokes, drumOfLayer, measureTiming, secondOf, type TimedMic } from "./timing";

const rate = 48000;
const onsets = everyHalfSecond(24);
const frames = rate * 13;
const main = strokes(frames, onsets);
const hit = (piece: Hit["piece"], frame: number): Hit => ({
  piece,
  time: frame / rate,
  levelDb: -8,
  ghost: false,
  kind: "stroke",
  sure: 1,
});
const snares = onsets.map((o) => hit("snare", o));
const mic = (
  file: string,
  place: TimedMic["place"],
  x: Float32Array,
  piece: Hit["piece"] = "snare",
): TimedMic => ({ file, piece, place, silent: false, channels: [x] });
/** The main mic and another one, as they are measured. */
const against = (second: Float32Array) => ({
  main,
  second,
  strokes: onsets,
  range: { from: -0.006, to: 0.008 },
  sampleRate: rate,
});

describe("timing of a second mic", () => {
  test("two halves of the strokes that agree make it sure, whatever the form of the peak", () => {
    const found = measureTiming(against(delayed(main, 31.4)))!;
    expect(Math.abs(found.delay - 31.4)).toBeLessThan(0.1);
    expect(found.confidence).toBeGreaterThanOrEqual(0.95);
    expect(found.driftPpm).toBe(0);
  });
  test("a few strokes are never sure", () => {
    const found = measureTiming({ ...against(delayed(main, 31.4)), strokes: onsets.slice(0, 2) })!;
    expect(found.confidence).toBeLessThan(0.3);
  });
  test("strokes on which another drum falls are left out while enough remain", () => {
    const kicks = onsets.filter((_, i) => i % 2 === 0).map((o) => hit("kick", o + 200));
    expect(clearStrokes([...snares, ...kicks], "snare", rate)).toEqual(onsets.filter((_, i) => i % 2 === 1));
    const all = onsets.map((o) => hit("kick", o + 200));
    expect(clearStrokes([...snares, ...all], "snare", rate)).toEqual(onsets);
  });
  test("the main mic has no timing of its own, the second one has it against the main one", () => {
    const mics = [
      mic("top.wav", "top", main),
      mic(
        "bottom.wav",
        "bottom",
        delayed(main, -6).map((v) => -v),
      ),
    ];
    expect(secondOf(mics, mics[0]!, snares, rate)).toBeNull();
    const { main: of, ask } = secondOf(mics, mics[1]!, snares, rate)!;
    expect(of.file).toBe("top.wav");
    const timing = measureTiming(ask)!;
    expect(timing.polarity).toBe(-1);
    expect(Math.abs(timing.delay + 6)).toBeLessThan(0.2);
  });
});

describe("layers", () => {
  const layer = delayed(strokes(frames, onsets, 8), 150);
  const kicks = onsets.map((o) => hit("kick", o + 9000));
  test("a layer belongs to the drum whose strokes it doubles, at any rate", () => {
    for (const other of [rate, 44100, 96000]) {
      const hits = [...snares, ...kicks].map((h) => ({ ...h, time: (h.time * rate) / other }));
      expect(drumOfLayer(layer, hits, other)).toBe("snare");
    }
  });
  test("and is measured against its mic", () => {
    const mics = [mic("top.wav", "top", main), mic("layer.wav", "close", layer, "sample")];
    const found = secondOf(mics, mics[1]!, [...snares, ...kicks], rate)!;
    expect(found.main.file).toBe("top.wav");
  });
  test("what sounds all the time doubles no drum", () => {
    expect(drumOfLayer(noise(frames, 3), [...snares, ...kicks], rate)).toBeNull();
  });
});
