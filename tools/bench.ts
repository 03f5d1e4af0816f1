// Benchmarks: ratios measured in one run, interleaved, medians of several rounds. Prints a table and JSON.
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { blockFrames, Engine } from "../src/core/engine/engine";
import { processChain } from "../src/core/engine/processChain";
import { resolveParams, type ParamValue } from "../src/core/params";
import { processorType, processorTypes } from "../src/core/processors";
import { plainContext } from "../src/core/processor";
import { newMic, newProcessor, newSong } from "../src/core/song/create";
import type { ProcessorState, Song } from "../src/core/song/song";
import { writeWav } from "../src/core/file/wav";
import { noise } from "../src/core/testing/signals";

const rate = 48000;
const rounds = 5;
const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!;
const spread = (list: number[]) => (Math.max(...list) - Math.min(...list)) / median(list);
const seconds = (work: () => void): number => {
  const from = process.hrtime.bigint();
  work();
  return Number(process.hrtime.bigint() - from) / 1e9;
};

/** Strokes twice a second over a noise floor, so that gates and compressors have work. */
const drum = (length: number, seed: number): Float32Array => {
  const x = noise(length, seed, 0.5);
  for (let i = 0; i < length; i++) x[i]! *= 0.002 + Math.exp(-(i % 24000) / 2400);
  return x;
};

const fullEq = {
  highPassSlope: "12",
  highPassFrequency: 60,
  lowShelfGain: 2,
  bell1Gain: 3,
  bell2Gain: -4,
  bell3Gain: -6,
  bell4Gain: 3,
  highShelfGain: 2,
};
const chainOf = (owner: string): ProcessorState[] => [
  newProcessor(owner, "gate", true, { threshold: -40 }),
  newProcessor(owner, "eq", true, fullEq),
  newProcessor(owner, "compressor", true, { threshold: -24 }),
  newProcessor(owner, "saturation", true, { drive: 6 }),
  newProcessor(owner, "pan"),
];
/** The nearest that ffmpeg has: the same gate, EQ, compressor, four times oversampled soft clip and pan. */
const ffmpegGraph = [
  "agate=threshold=0.01:ratio=9000:attack=0.3:release=80",
  "highpass=f=60:p=2",
  "bass=g=2:f=100",
  "equalizer=f=200:t=q:w=1:g=3",
  "equalizer=f=400:t=q:w=1:g=-4",
  "equalizer=f=1000:t=q:w=1:g=-6",
  "equalizer=f=4000:t=q:w=1:g=3",
  "treble=g=2:f=8000",
  "acompressor=threshold=0.063:ratio=4:attack=5:release=150:knee=2",
  "asoftclip=type=tanh:oversample=4",
  "pan=stereo|c0=0.7071*c0|c1=0.7071*c0",
].join(",");

interface Row {
  name: string;
  value: number;
  unit: string;
  noise?: number;
}
const rows: Row[] = [];
const row = (name: string, value: number, unit: string, noisy?: number) =>
  rows.push({ name, value, unit, ...(noisy === undefined ? {} : { noise: noisy }) });

function renderAgainstFfmpeg(): void {
  const folder = mkdtempSync(join(tmpdir(), "jubo-bench-"));
  const audio = drum(30 * rate, 3);
  const path = join(folder, "in.wav");
  writeFileSync(path, writeWav({ sampleRate: rate, channels: [audio] }, "wav32f"));
  const chain = chainOf("x");
  const own: number[] = [];
  const theirs: number[] = [];
  const ffmpeg = (graph: string) =>
    seconds(() => execFileSync("ffmpeg", ["-v", "error", "-threads", "1", "-filter_threads", "1", "-i", path, "-af", graph, "-f", "null", "-"])); // prettier-ignore
  processChain(chain, [audio], rate); // warm
  for (let r = 0; r < rounds; r++) {
    own.push(seconds(() => processChain(chain, [audio], rate)));
    theirs.push(ffmpeg(ffmpegGraph) - ffmpeg("anull")); // without its start and decoding
  }
  row("render, full chain per mic, ns per sample", (1e9 * median(own)) / audio.length, "ns", spread(own));
  row("ffmpeg's nearest graph, ns per sample", (1e9 * median(theirs)) / audio.length, "ns", spread(theirs));
  row("render against ffmpeg, one core", median(theirs) / median(own), "times");
  rmSync(folder, { recursive: true });
}

function processorCosts(): void {
  const x = drum(4 * rate, 5);
  for (const type of processorTypes) {
    const p = type.create();
    const two = type.type === "pan" || type.type === "reverb";
    p.prepare({ sampleRate: rate, channels: 1, maxFrames: blockFrames });
    p.set(
      resolveParams(type.params, type.type === "eq" ? fullEq : type.type === "delay" ? { delay: 12.3 } : {}),
    );
    p.reset();
    const out = [new Float32Array(blockFrames), new Float32Array(blockFrames)].slice(0, two ? 2 : 1);
    const context = plainContext();
    const run = () => {
      for (let i = 0; i + blockFrames <= x.length; i += blockFrames) {
        context.position = i;
        p.process([x.subarray(i, i + blockFrames)], out, blockFrames, context);
      }
    };
    run();
    const times = Array.from({ length: rounds }, () => seconds(run));
    row(
      `  ${processorType(type.type).label}`,
      (1e9 * median(times)) / x.length,
      "ns per sample",
      spread(times),
    );
  }
}

function liveSong(mics: number): Song {
  const song = newSong("bench", rate, Array.from({ length: mics }, (_, i) => newMic({ id: `m${i}`, file: `${i}.wav`, audio: null, channels: 1, frames: 60 * rate, piece: "snare", place: "top", sure: 1 }))); // prettier-ignore
  const on = (state: ProcessorState): ProcessorState => ({
    ...state,
    on: true,
    params: { ...state.params, ...(state.type === "eq" ? fullEq : {}) } as Record<string, ParamValue>,
  });
  return {
    ...song,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map(on),
      sends: song.buses
        .filter((b) => b.output !== null)
        .map((b) => ({ bus: b.id, level: -6, beforeFader: false })),
    })),
    buses: song.buses.map((b) => ({ ...b, muted: false, chain: b.chain.map(on) })),
  };
}

/** Share of the audio block's time that the engine takes with everything switched on. */
function liveLoad(): void {
  for (const mics of [8, 16, 24, 32]) {
    const song = liveSong(mics);
    const engine = Engine.of(song);
    const inputs = song.mics.map((_, i) => drum(rate, i + 1));
    const blocks = Math.floor(rate / blockFrames);
    const times: number[] = [];
    for (let r = 0; r < 4; r++)
      for (let b = 0; b < blocks; b++) {
        const block = inputs.map((x) => [x.subarray(b * blockFrames, (b + 1) * blockFrames)]);
        const t = seconds(() => engine.process(block, b * blockFrames));
        if (r > 0) times.push(t);
      }
    const block = blockFrames / rate;
    times.sort((a, b) => a - b);
    row(
      `live, ${mics} mics, all processors on, 4 buses: share of the audio thread`,
      (100 * median(times)) / block,
      "%",
    );
    row(`  99th percentile`, (100 * times[Math.floor(0.99 * times.length)]!) / block, "%");
  }
}

/** Cost of 30 s of silence after a stroke against 30 s of strokes: denormals would make it many times slower. */
function silenceAfterStroke(): void {
  const chain = chainOf("x");
  const loud = drum(30 * rate, 3);
  const quiet = loud.slice();
  quiet.fill(0, 12000);
  processChain(chain, [loud], rate);
  const a = seconds(() => processChain(chain, [loud], rate));
  const b = seconds(() => processChain(chain, [quiet], rate));
  row("silence after a stroke against strokes", b / a, "times");
}

renderAgainstFfmpeg();
processorCosts();
liveLoad();
silenceAfterStroke();
for (const r of rows)
  process.stdout.write(`${r.name.padEnd(72)} ${r.value.toFixed(2).padStart(9)} ${r.unit}${r.noise === undefined ? "" : ` (spread ${(100 * r.noise).toFixed(0)} %)`}\n`); // prettier-ignore
process.stdout.write(`${JSON.stringify({ node: process.version, rows })}\n`);
