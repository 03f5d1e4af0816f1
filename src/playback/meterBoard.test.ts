import { describe, expect, test } from "@jest/globals";
import { allocateBoard, bandsMost, MeterBoard } from "./meterBoard";

describe("meter board", () => {
  test("the page reads what the worklet wrote; peaks fall and rise again", () => {
    const memory = allocateBoard(2);
    const writer = new MeterBoard(memory);
    const reader = new MeterBoard(memory);
    writer.put("position", 123456.5);
    writer.put("playing", 1);
    writer.putReduction(1, 4.5);
    writer.putBands(Float64Array.from({ length: bandsMost }, (_, b) => (b === 2 ? NaN : -b)));
    writer.putPeak(0, 0.8, 0.5);
    writer.putPeak(0, 0.1, 0.5);
    expect(reader.read(2)).toMatchObject({
      position: 123456.5,
      playing: true,
      reductions: [0, 4.5],
      peaks: [0.4, 0],
    });
    expect(reader.read(0).bands.slice(0, 4)).toEqual([-0, -1, NaN, -3]);
    expect(reader.read(0).bands).toHaveLength(bandsMost);
    writer.putPeak(0, 0.9, 0.5);
    expect(reader.read(0).peaks[0]).toBe(0.9);
  });
});
