import { expect, test } from "@jest/globals";
import { resolveParams } from "../../params";
import { largestDifference, noise } from "../../testing/signals";
import { laneCount, laneFrames, LaneMemory } from "../../lanes/laneMemory";
import { oversamplings, type Oversampling } from "../../signal/oversampledBend";
import { SaturationLanes } from "./lanes";
import { saturationParams } from "./saturation";

const blocks = 24;
const [first, second] = [noise(blocks * laneFrames, 3), noise(blocks * laneFrames, 4)];

/** Two mics side by side, each going its way; what comes out of each. */
class Pair {
  private readonly memory = LaneMemory.for(2);
  readonly lanes = new SaturationLanes({
    memory: this.memory,
    sampleRate: 48000,
    owners: [
      { first: 0, width: 1 },
      { first: 1, width: 1 },
    ],
    paired: [false, false],
  });
  private readonly x = this.memory.floats(laneCount * laneFrames);
  private readonly dry = this.memory.floats(laneCount * laneFrames);

  choose(owner: number, oversampling: Oversampling): void {
    this.lanes.set(owner, resolveParams(saturationParams, { oversampling, drive: 9 }));
  }
  block(at: number): [Float32Array, Float32Array] {
    for (let i = 0; i < laneFrames; i++) {
      this.x.values[laneCount * i] = first[at + i]!;
      this.x.values[laneCount * i + 1] = second[at + i]!;
    }
    this.lanes.process(this.x.pointer, this.dry.pointer, laneFrames);
    const out = (lane: number) =>
      Float32Array.from({ length: laneFrames }, (_, i) => this.x.values[laneCount * i + lane]!);
    return [out(0), out(1)];
  }
}
/** What comes out block by block; `choices` gives the way of each mic at a block. */
function run(
  choices: (block: number) => readonly [Oversampling, Oversampling],
): [Float32Array, Float32Array][] {
  const pair = new Pair();
  return Array.from({ length: blocks }, (_, b) => {
    choices(b).forEach((one, owner) => pair.choose(owner, one));
    return pair.block(b * laneFrames);
  });
}

const always = Object.fromEntries(oversamplings.map((one) => [one, run(() => [one, one])]));

test("mics side by side may go different ways, to the bit", () => {
  for (const one of oversamplings)
    for (const other of oversamplings)
      run(() => [one, other]).forEach(([a, b], k) => {
        expect(a).toEqual(always[one]![k]![0]);
        expect(b).toEqual(always[other]![k]![1]);
      });
});
test("a way that comes in gives what it would have given had it always run", () => {
  const at = (b: number) => oversamplings[Math.floor(b / 4) % oversamplings.length]!;
  run((b) => [at(b), "4 times"]).forEach(([a, b], k) => {
    expect(largestDifference(a, always[at(k)]![k]![0])).toBeLessThan(1e-6);
    expect(b).toEqual(always["4 times"]![k]![1]);
  });
});
test("lanes that are set up anew go on from those before, also by another way", () => {
  for (const next of ["4 times", "8 times"] as const) {
    const before = new Pair();
    for (const owner of [0, 1]) before.choose(owner, "4 times");
    for (let b = 0; b < 8; b++) before.block(b * laneFrames);
    const after = new Pair();
    for (const owner of [0, 1]) {
      after.choose(owner, next);
      after.lanes.adoptLine(owner, before.lanes, owner);
    }
    const [a, b] = after.block(8 * laneFrames);
    expect(largestDifference(a, always[next]![8]![0])).toBeLessThan(1e-6);
    expect(largestDifference(b, always[next]![8]![1])).toBeLessThan(1e-6);
  }
});
