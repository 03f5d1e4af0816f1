import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { LaneMemory, laneCount, laneFrames } from "../lanes/laneMemory";
import { freeTypes } from "../song/chain";
import { newProcessor } from "../song/create";
import type { ProcessorState } from "../song/song";
import { largestDifference, noise } from "../testing/signals";
import { ChainWeave, planWeave } from "./chainWeave";
import { setHits } from "./lanes";
import { PositionLine } from "./positionLine";
import { SoloChain } from "./soloChain";

const rate = 48000;
const types = freeTypes.map((t) => t.type);
const kernelled = types.filter((t) => t !== "reverb");

describe("unlike chains woven together", () => {
  test("every processor runs once, in the order of its chain, at most four lanes at a time", () => {
    const chain = fc.record({
      types: fc.array(fc.constantFrom(...types), { maxLength: 8 }),
      width: fc.constantFrom(1, 2),
    });
    fc.assert(
      fc.property(fc.array(chain, { minLength: 1, maxLength: 12 }), (chains) => {
        const done = chains.map((): number[] => []);
        for (const step of planWeave(chains)) {
          expect(new Set(step.map((t) => chains[t.owner]!.types[t.place])).size).toBe(1);
          const lanes = step.flatMap((t) =>
            Array.from({ length: chains[t.owner]!.width }, (_, w) => t.lane + w),
          );
          expect(new Set(lanes).size).toBe(lanes.length);
          expect(Math.max(...lanes)).toBeLessThan(laneCount);
          for (const t of step) if (chains[t.owner]!.width === 2) expect(t.lane % 2).toBe(0);
          for (const t of step) done[t.owner]!.push(t.place);
        }
        expect(done).toEqual(chains.map((c) => c.types.map((_, i) => i)));
      }),
    );
  });
  test("24 chains of five processors in orders of their own fill most lanes", () => {
    const orders = Array.from({ length: 24 }, (_, i) =>
      [...kernelled].sort(
        (a, b) => ((i * 7 + kernelled.indexOf(a) * 5) % 11) - ((i * 7 + kernelled.indexOf(b) * 5) % 11),
      ),
    );
    const steps = planWeave(orders.map((o) => ({ types: o, width: 1 })));
    expect(steps.length).toBeLessThan(1.25 * ((24 * kernelled.length) / laneCount));
  });
  test("each gives the samples it gives alone, to the bit, whatever runs beside it", () => {
    const state = (o: number, type: string, i: number): ProcessorState => ({
      ...newProcessor(`o${o}`, type, (o + i) % 4 !== 0, type === "eq" ? { bell1Gain: 3 + o } : {}),
      id: `o${o}.${i}`,
    });
    const chains = [
      ["eq", "compressor", "saturation"],
      ["saturation", "gate"],
      ["compressor", "eq", "eq", "dynamicEq"],
      [],
      ["gate", "saturation", "compressor"],
      ["dynamicEq"],
    ].map((list, o) => ({
      chain: list.map((type, i) => state(o, type, i)),
      channels: o === 2 || o === 4 ? 2 : 1,
    }));
    const hits = Float64Array.from([300, 2500, 6100]);
    const frames = 80 * laneFrames;
    const audio = chains.map(({ channels }, o) =>
      Array.from({ length: channels }, (_, ch) => noise(frames, 10 * o + ch)),
    );
    const weave = new ChainWeave(LaneMemory.for(8), chains, rate, [
      { behind: Infinity, panned: true },
      { behind: 0, panned: false },
    ]);
    chains.forEach((_, o) => {
      setHits(weave, o, hits);
      weave.setPan(o, { position: -100, law: "-3 dB" });
    });
    const alone = chains.map(({ chain, channels }) => new SoloChain(chain, rate, channels));
    alone.forEach((a) => a.setHits(hits));
    const positions = new PositionLine(8192);
    for (let at = 0; at < frames; at += laneFrames) {
      const cut = (o: number) => audio[o]!.map((x) => x.subarray(at, at + laneFrames));
      chains.forEach((_, o) => weave.feed(o, cut(o)));
      positions.put(at);
      weave.process(positions, 0);
      chains.forEach((_, o) => {
        alone[o]!.process(cut(o), at);
        alone[o]!.output.forEach((y, ch) => expect(largestDifference(weave.channels(o)[ch]!, y)).toBe(0));
      });
    }
    chains.forEach((_, o) => expect(weave.latencyOf(o)).toBe(alone[o]!.latency));
    // A tap before the chain, in the middle: -3.01 dB a side for one channel, as it is for two.
    expect(weave.tapChannels(0, 1)[0]![5]! / audio[0]![0]![frames - laneFrames + 5]!).toBeCloseTo(
      Math.SQRT1_2,
      5,
    );
    expect(weave.tapChannels(2, 1)[1]![5]).toBe(audio[2]![1]![frames - laneFrames + 5]);
    expect(weave.tapAhead(1, 1)).toBe(weave.latencyOf(1));
    expect(weave.tapAhead(1, 0)).toBe(0);
  });
});
