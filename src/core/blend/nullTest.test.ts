import { describe, expect, test } from "@jest/globals";
import { newBus, newProcessor } from "../song/create";
import { applyAll } from "../song/operations";
import { parallelCopy } from "../song/parallelCopy";
import { noise } from "../testing/signals";
import { testSong } from "../testing/songs";
import { nullFrames, nullTest, residueOf } from "./nullTest";

const { song, audio } = testSong(nullFrames);
const send = (bus: string) => ({ bus, level: -3, from: "chain" as const, followsPan: true });

describe("null test of a parallel path", () => {
  test("paths of a song arrive in time, with all that is late in them and around them", async () => {
    const wired = applyAll(song, [
      {
        op: "setChain",
        owner: "squash",
        chain: ["compressor", "saturation", "eq"].map((t) => newProcessor("squash", t, true)),
      },
      {
        op: "addBuses",
        buses: [newBus("low", "Low", "group")],
        order: ["low", "squash", "grit", "room", "kit"],
      },
      { op: "setBus", bus: "squash", values: { output: "low", pan: 40, width: 0, level: -9 } },
      { op: "setSends", owner: "kick", sends: [send("squash"), send("grit")] },
      { op: "setSends", owner: "squash", sends: [send("room")] },
      { op: "setProcessor", owner: "snare", processor: "snare.saturation", on: true },
    ]);
    const busy = applyAll(wired, [parallelCopy(wired, wired.mics[1]!, "input").operation]);
    for (const id of ["squash", "grit", "room", "snare-copy"])
      expect(await nullTest(busy, id, audio)).toEqual({
        residueDb: expect.any(Number),
        holds: true,
        worstHz: null,
      });
    await expect(nullTest(song, "grit", audio)).rejects.toThrow("nothing goes into Parallel saturation");
    await expect(nullTest(busy, "kit", audio)).rejects.toThrow("beside others");
  });
  test("what is late by one frame is told, with the frequency where most is left", () => {
    const tone = Float32Array.from({ length: nullFrames }, (_, i) =>
      Math.sin((2 * Math.PI * 3001 * i) / 48000),
    );
    const late = new Float32Array(nullFrames);
    late.set(tone.subarray(0, -1), 1);
    const { residueDb, holds, worstHz } = residueOf([tone], [late], 48000);
    // |1 - e^(-jw)| = 2 sin(w / 2), by hand.
    expect(residueDb).toBeCloseTo(20 * Math.log10(2 * Math.sin((Math.PI * 3001) / 48000)), 1);
    expect(holds).toBe(false);
    expect(worstHz).toBeCloseTo(3001, -1);
    const x = noise(nullFrames, 5);
    expect(residueOf([x], [x], 48000)).toEqual({ residueDb: -300, holds: true, worstHz: null });
  });
});
