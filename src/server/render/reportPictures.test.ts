import { describe, expect, test } from "@jest/globals";
import { newProcessor } from "../../core/song/create";
import { testSong } from "../../core/testing/songs";
import { eqPicture, faderPicture, songPicture, timingPicture } from "./reportPictures";

const { song } = testSong(48000);
const points = (svg: string): [number, number][] =>
  /points="([^"]*)"/
    .exec(svg)![1]!
    .split(" ")
    .map((p) => p.split(",").map(Number) as [number, number]);

describe("small pictures of a report", () => {
  test("every stroke stands in its drum's row where it is heard, and names cannot be markup", () => {
    const named = { ...song, sections: [{ id: "a", name: "<Verse>", from: 0, to: 0.5 }] };
    const svg = songPicture(named);
    // Strokes at 0.05 and 0.2 s of one second, behind 70 of 850 px.
    expect(svg).toContain("M109 ");
    expect(svg).toContain("M226 ");
    expect(svg).toContain("&lt;Verse&gt;");
    expect(svg).not.toContain("<Verse>");
    const moved = songPicture({
      ...song,
      edits: [{ at: 4800, shift: 4800, fade: 100, likeness: 1, jumpDb: null }],
    });
    // The snare is heard 0.1 s later.
    expect(moved).toContain("M304 ");
  });
  test("strokes lie as far beside the grid as they were played, and as they are now", () => {
    const svg = timingPicture(
      [
        { time: 0.5, before: 0.015, after: 0 },
        { time: 0.75, before: -1, after: 0.03 },
      ],
      song,
    );
    expect(svg).toContain('cx="460" cy="60"');
    expect(svg).toContain('cx="460" cy="42"');
    expect(svg).toContain('cx="655" cy="6"');
    expect(svg).toContain('cx="655" cy="78"');
  });
  test("an EQ is as high as it lifts", () => {
    const flat = points(eqPicture(newProcessor("m", "eq"), 48000));
    expect(flat.every(([, y]) => y === 18)).toBe(true);
    const eq = { ...newProcessor("m", "eq"), params: { bell1Frequency: 735, bell1Gain: 7.5, bell1Q: 1 } };
    const lifted = points(eqPicture(eq, 48000));
    // 735 Hz is the middle of 30 Hz to 18 kHz; 7.5 of 9 dB leave 3 of 18 px above.
    expect(lifted[30]![0]).toBe(60);
    expect(lifted[30]![1]).toBeCloseTo(3, 1);
  });
  test("a fader's way begins and ends with the song", () => {
    const way = points(
      faderPicture(
        [
          { time: 0.25, db: 12 },
          { time: 0.75, db: -30 },
        ],
        song,
      ),
    );
    expect(way).toEqual([
      [0, 0],
      [30, 0],
      [90, 24],
      [120, 24],
    ]);
  });
});
