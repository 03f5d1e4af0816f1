import { describe, expect, test } from "@jest/globals";
import { laneFrames } from "../lanes/laneMemory";
import { PositionLine } from "./positionLine";

/** Plays blocks at these positions; returns what comes out of a delay with each. */
const played = (late: number, positions: readonly number[]): number[] => {
  const line = new PositionLine(2000);
  line.reset(positions[0]!);
  return positions.map((p) => {
    line.put(p);
    return line.at(late);
  });
};
const blocks = (from: number, count: number) =>
  Array.from({ length: count }, (_, b) => from + b * laneFrames);

describe("places in the song behind a delay", () => {
  test.each([0, 1, 127, 128, 129, 1000, 2000])(
    "%i frames: straight on, the input's place less the delay",
    (late) => {
      const positions = blocks(48000, 40);
      const out = played(late, positions);
      for (let b = 17; b < 40; b++) expect(out[b]).toBe(positions[b]! - late);
    },
  );
  test("at the seam of a loop the delayed audio still lies at the loop's end", () => {
    const positions = [...blocks(10240, 20), ...blocks(9600, 20)];
    const out = played(256, positions);
    expect(out.slice(18, 25)).toEqual([12288, 12416, 12544, 12672, 9600, 9728, 9856]);
  });
  test("where the delay is no whole block, a block's place is that of its first frame", () => {
    const positions = [...blocks(10240, 20), ...blocks(9600, 20)];
    expect(played(200, positions).slice(19, 24)).toEqual([12472, 12600, 12728, 9656, 9784]);
  });
  test("after a jump nothing lies before it", () => {
    for (const place of played(1000, blocks(48000, 8))) expect(place).toBeGreaterThanOrEqual(48000);
  });
  test.each([256, 2000, 6000])("goes on where another line of %i frames stands", (reach) => {
    const old = new PositionLine(reach);
    old.reset(0);
    for (const p of blocks(48000, 60)) old.put(p);
    const line = new PositionLine(2000);
    line.put(7);
    line.adopt(old);
    const next = 48000 + 60 * laneFrames;
    line.put(next);
    for (const late of [0, 100, 256, 1999]) expect(line.at(late)).toBe(next - late);
  });
});
