import { afterAll, beforeEach, describe, expect, test } from "@jest/globals";
import { steadyTempo } from "../../core/testing/tempo";
import { testMic } from "../../core/testing/songs";
import { newSong } from "../../core/song/create";
import type { Hit, Piece, Song } from "../../core/song/song";
import type { Operation } from "../../core/song/operations";
import type { Stretch } from "../../playback/messages";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { jumpToHit, loopHere, playStrokes, playStrokesAlone, sectionFromLoop, toggleLoop } from "./actions";

const rate = 1000;
const hit = (piece: Piece, time: number): Hit => ({
  piece,
  time,
  levelDb: -6,
  ghost: false,
  kind: "stroke",
  sure: 1,
});
const song: Song = {
  ...newSong("line", rate, [
    testMic("kick", "kick", "in", 20 * rate),
    testMic("snare", "snare", "top", 20 * rate),
  ]),
  frames: 20 * rate,
  hits: [...[1, 2, 3, 3.3, 19.9].map((t) => hit("kick", t)), ...[1.5, 2.5].map((t) => hit("snare", t))],
  sections: [{ id: "section4", name: "Verse", from: 4, to: 8 }],
  tempo: steadyTempo(120, 40),
};

// What the page's playback is told, as a list; where it stands, as a test sets it.
let at = 0;
let told: string[] = [];
let played: readonly Stretch[] = [];
const changed: [string, Operation][] = [];
const previews: Operation[] = [];
const { seek, setLoop, playStrokes: play, stop } = playback;
const position = Object.getOwnPropertyDescriptor(playback, "position")!;
const before = useSong.getState();
beforeEach(() => {
  [at, told, played] = [0, [], []];
  changed.length = previews.length = 0;
  Object.defineProperty(playback, "position", { get: () => at, configurable: true });
  playback.seek = (frame) => void (at = frame);
  playback.setLoop = (loop, looping) => usePlayback.setState({ loop, looping });
  playback.playStrokes = (stretches) => {
    played = stretches;
    usePlayback.setState({ strokes: true, playing: true });
  };
  playback.stop = () => usePlayback.setState({ strokes: false, playing: false });
  usePlayback.setState({ loop: null, looping: false, strokes: false, playing: false });
  useSong.setState({
    song,
    piece: "kick",
    tell: (words: string) => void told.push(words),
    change: (label: string, operation: Operation) => void changed.push([label, operation]),
    preview: (operation: Operation) => void previews.push(operation),
  });
});
afterAll(() => {
  Object.defineProperty(playback, "position", position);
  Object.assign(playback, { seek, setLoop, playStrokes: play, stop });
  useSong.setState(before);
});
const seconds = (s: Stretch | null) => s && [s.from / rate, s.to / rate];
const looped = () => seconds(usePlayback.getState().loop);

describe("loops where the playhead stands", () => {
  // 120 bpm, four beats to the bar: a bar is two seconds.
  test.each([
    ["1 bar", 0, [0, 2]],
    ["2 bars", 2.7, [2, 6]],
    ["4 bars", 3.99, [4, 12]],
    ["1 bar", 19, [18, 20]],
  ] as const)("%s at %d s", (kind, now, wanted) => {
    at = now * rate;
    loopHere(kind);
    expect(looped()).toEqual([...wanted]);
    expect(usePlayback.getState().looping).toBe(true);
  });
  test("without a tempo a bar is two seconds from the playhead on, within the song", () => {
    useSong.setState({ song: { ...song, tempo: null } });
    at = 500;
    loopHere("2 bars");
    expect(looped()).toEqual([0.5, 4.5]);
    at = 19_000;
    loopHere("4 bars");
    expect(looped()).toEqual([19, 20]);
  });
  test("the section; outside of all it is said that there is none, and the loop stays", () => {
    at = 5000;
    loopHere("section");
    expect(looped()).toEqual([4, 8]);
    at = 8000;
    loopHere("section");
    expect(looped()).toEqual([4, 8]);
    expect(told).toEqual(["The playhead stands in no section."]);
  });
  test("the next stroke of the chosen drum, up to the one behind it, a second at most", () => {
    at = 1700;
    loopHere("stroke");
    expect(looped()).toEqual([1.95, 2.99]);
    at = 2500;
    loopHere("stroke");
    expect(looped()).toEqual([2.95, 3.29]);
    at = 19_950;
    loopHere("stroke");
    expect(told).toEqual(["No stroke follows the playhead."]);
  });
  test("L without a loop makes one of two bars; with one it is switched off and on again", () => {
    toggleLoop();
    expect(looped()).toEqual([0, 4]);
    toggleLoop();
    expect([looped(), usePlayback.getState().looping]).toEqual([[0, 4], false]);
    toggleLoop();
    expect(usePlayback.getState().looping).toBe(true);
  });
});

describe("from stroke to stroke", () => {
  const stops = (direction: 1 | -1, count: number) =>
    Array.from({ length: count }, () => {
      jumpToHit(direction);
      return Math.round(at) / rate;
    });
  test("forwards and back, a little before each; at the ends the playhead stays", () => {
    expect(stops(1, 6)).toEqual([0.95, 1.95, 2.95, 3.25, 19.85, 19.85]);
    expect(stops(-1, 6)).toEqual([3.25, 2.95, 1.95, 0.95, 0.95, 0.95]);
  });
  test("while it plays, back leaves the stroke that has just begun", () => {
    at = 2050;
    usePlayback.setState({ playing: true });
    jumpToHit(-1);
    expect(at / rate).toBe(0.95);
  });
  test("of no chosen drum all strokes are meant; tightened ones where they are heard", () => {
    useSong.setState({ piece: null });
    expect(stops(1, 3)).toEqual([0.95, 1.45, 1.95]);
    at = 0;
    useSong.setState({
      piece: "kick",
      song: { ...song, edits: [{ at: 900, shift: 40, fade: 10, likeness: 1, jumpDb: null }] },
    });
    expect(stops(1, 1)).toEqual([0.99]);
  });
});

describe("strokes alone", () => {
  test("each with its tail, none into the next, from the playhead on", () => {
    at = 1500;
    playStrokes();
    expect(played.map(seconds)).toEqual([
      [1.95, 2.44],
      [2.95, 3.29],
      [3.25, 3.74],
      [19.85, 20],
    ]);
    playStrokes();
    expect(usePlayback.getState().strokes).toBe(false);
  });
  test("within a loop, while it is on", () => {
    usePlayback.setState({ loop: { from: 1800, to: 3100 }, looping: true });
    playStrokes();
    expect(played.map(seconds)).toEqual([
      [1.95, 2.44],
      [2.95, 3.29],
    ]);
  });
  test("fewer than two are no round: it is said what to do", () => {
    at = 15_000;
    playStrokes();
    expect(played).toEqual([]);
    expect(told[0]).toMatch(/at least two strokes/);
  });
  test("alone, the other drums are silent until it stops, and the song is as it was", () => {
    playStrokesAlone();
    expect(played.length).toBeGreaterThan(1);
    expect(previews[0]).toMatchObject({
      operations: [
        { mic: "kick", values: { soloed: true } },
        { mic: "snare", values: { soloed: false } },
      ],
    });
    playback.stop();
    expect(previews[1]).toMatchObject({ op: "several" });
    expect(JSON.stringify(previews[1])).not.toContain("true");
    expect(changed).toEqual([]);
    useSong.setState({ piece: null });
    playStrokesAlone();
    expect(told[0]).toMatch(/Choose a drum/);
  });
});

test("a section of the loop gets a number of its own and its place among the others", () => {
  usePlayback.setState({ loop: { from: 1000, to: 3000 } });
  sectionFromLoop("Intro");
  const [label, operation] = changed[0]!;
  expect(label).toBe("Section Intro");
  expect(operation).toEqual({
    op: "setSong",
    values: { sections: [{ id: "section5", name: "Intro", from: 1, to: 3 }, ...song.sections] },
  });
  usePlayback.setState({ loop: null });
  sectionFromLoop("Nothing");
  expect(changed).toHaveLength(1);
});
