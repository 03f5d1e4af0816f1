import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { blockFrames } from "../../src/core/engine/engine";
import { LaneChain } from "../../src/core/engine/laneChain";
import { PositionLine } from "../../src/core/engine/positionLine";
import { writeWav } from "../../src/core/file/wavWrite";
import { laneCount, LaneMemory } from "../../src/core/lanes/laneMemory";
import { plainContext } from "../../src/core/processor";
import { processorTypes } from "../../src/core/processors";
import { resolveParams, type ParamValue } from "../../src/core/params";
import { newProcessor } from "../../src/core/song/create";
import type { ProcessorState } from "../../src/core/song/song";
import { drum, ffmpegGraph, fullChain, fullEq, rate } from "./material";
import { median, note, seconds, spreadOf } from "./table";

const rounds = 7;

/** Runs as many mics as there are channels through a chain, side by side, each with its pan. */
function runLanes(chain: readonly ProcessorState[], audio: readonly Float32Array[]): () => void {
  const owners = audio.map(() => ({ chain, channels: 1 }));
  const lanes = new LaneChain(LaneMemory.for(1), owners, rate, {
    taps: [{ behind: chain.length, panned: true }],
  });
  const positions = new PositionLine(lanes.latency);
  audio.forEach((_, o) => lanes.setPan(o, { position: 20, law: "-3 dB" }));
  return () => {
    for (let at = 0; at + blockFrames <= audio[0]!.length; at += blockFrames) {
      audio.forEach((x, o) => lanes.feed(o, [x.subarray(at, at + blockFrames)]));
      positions.put(at);
      lanes.process(positions, 0);
    }
  };
}

/** The full chain of every mic against ffmpeg's nearest graph on the same files, both on one core. */
export function renderAgainstFfmpeg(): void {
  const folder = mkdtempSync(join(tmpdir(), "jubo-bench-"));
  const audio = Array.from({ length: laneCount }, (_, i) => drum(20 * rate, 3 + i));
  const paths = audio.map((x, i) => {
    const path = join(folder, `${i}.wav`);
    writeFileSync(path, writeWav({ sampleRate: rate, channels: [x] }, "wav32f"));
    return path;
  });
  const ffmpeg = (graph: string) =>
    paths.forEach((path) =>
      execFileSync("ffmpeg", [
        "-v",
        "error",
        "-threads",
        "1",
        "-filter_threads",
        "1",
        "-i",
        path,
        "-af",
        graph,
        "-f",
        "null",
        "-",
      ]),
    );
  const run = runLanes(fullChain("x"), audio);
  run(); // warm
  const own: number[] = [];
  const theirs: number[] = [];
  const ratios: number[] = [];
  for (let r = 0; r < rounds; r++) {
    own.push(seconds(run));
    theirs.push(seconds(() => ffmpeg(ffmpegGraph)) - seconds(() => ffmpeg("anull"))); // without start and decoding
    ratios.push(theirs[r]! / own[r]!);
  }
  const samples = laneCount * audio[0]!.length;
  note({
    name: "full chain per mic",
    value: (1e9 * median(own)) / samples,
    unit: "ns a sample",
    spread: spreadOf(own),
  });
  note({
    name: "ffmpeg's nearest graph",
    value: (1e9 * median(theirs)) / samples,
    unit: "ns a sample",
    spread: spreadOf(theirs),
  });
  note({
    name: "render against ffmpeg, one core",
    value: median(ratios),
    unit: "times",
    spread: spreadOf(ratios),
    budget: "4, aim 6",
  });
  rmSync(folder, { recursive: true });
}

/** Settings in which every part of a processor works. */
const lively: Record<string, Record<string, ParamValue>> = {
  eq: fullEq,
  delay: { delay: 12.3 },
  dynamicEq: { lowShape: "low shelf" },
};

/** Cost of every processor: as kernel with four mics in a vector, and as the scalar reference. */
export function processorCosts(): void {
  const x = drum(4 * rate, 5);
  for (const { type, label, params, create, widens: wide, lanes, lively: usual } of processorTypes) {
    const values = { ...usual, ...lively[type] };
    const scalar = create();
    scalar.prepare({ sampleRate: rate, channels: 1, maxFrames: blockFrames });
    scalar.set(resolveParams(params, values));
    scalar.reset();
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)].slice(0, wide ? 2 : 1);
    const context = { ...plainContext(), beats: Float64Array.from({ length: 9 }, (_, i) => 0.5 * rate * i) };
    const alone = () => {
      for (let i = 0; i + blockFrames <= x.length; i += blockFrames) {
        context.position = i;
        scalar.process([x.subarray(i, i + blockFrames)], out, blockFrames, context);
      }
    };
    const four = wide ? null : runLanes([newProcessor("x", type, true, values)], [x, x, x, x]);
    alone();
    four?.();
    const times = Array.from({ length: rounds }, () => [seconds(alone), four ? seconds(four) / 4 : 0]);
    const cost = (list: number[]) => (1e9 * median(list)) / x.length;
    const one = times.map((t) => t[0]!);
    const many = times.map((t) => t[1]!);
    if (four)
      note({
        name: `${label}, ${lanes ? "kernel" : "in lanes"} with pan`,
        value: cost(many),
        unit: "ns a sample",
        spread: spreadOf(many),
      });
    note({ name: `${label}, scalar`, value: cost(one), unit: "ns a sample", spread: spreadOf(one) });
  }
}

/** 30 s of silence after a stroke against 30 s of strokes: denormals would make it many times slower. */
export function silenceAfterStroke(): void {
  const loud = Array.from({ length: laneCount }, (_, i) => drum(30 * rate, i + 1));
  const quiet = loud.map((x) => x.slice().fill(0, 12000));
  const chain = [...fullChain("x"), newProcessor("x", "dynamicEq", true, lively["dynamicEq"])];
  const run = runLanes(chain, loud);
  run();
  const ratios = [1, 2, 3].map(() => {
    const a = seconds(run);
    return seconds(runLanes(chain, quiet)) / a;
  });
  note({
    name: "silence after a stroke against strokes",
    value: median(ratios),
    unit: "times",
    spread: spreadOf(ratios),
    budget: "about 1",
  });
}
