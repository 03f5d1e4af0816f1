import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { execFileSync, spawnSync } from "node:child_process";
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { simulate } from "../../demo/simulate";
import { micFile } from "../../demo/demoSong";
import { variedKit } from "../../demo/varied";
import { readAudio } from "../core/file/audioFile";
import { writeWav } from "../core/file/wavWrite";
import type { Song } from "../core/song/song";
import { processorTypes } from "../core/processors";
import { describeProcessors } from "../core/processors/describe";
import { noise, sine } from "../core/testing/signals";

// The command as a user runs it, on a kit that is not the demo; what it writes is read by sox, ffmpeg, flac.
const folder = mkdtempSync(join(tmpdir(), "jubo-cli-"));
const kitFolder = join(folder, "kit");
const jubo = (...args: string[]) => spawnSync("./jubo", args, { encoding: "utf8", maxBuffer: 1 << 28 });
const run = (...args: string[]): string => {
  const { status, stdout, stderr } = jubo(...args);
  if (status !== 0) throw new Error(`jubo ${args.join(" ")}: ${stderr}`);
  return stdout;
};
/** Equal to the last bit; Jest's own comparison takes microseconds a sample. */
const sameSamples = (a: Float32Array[], b: Float32Array[]): boolean =>
  a.length === b.length &&
  a.every((x, ch) => x.length === b[ch]!.length && x.every((v, i) => v === b[ch]![i]));
const wav = (path: string) => readAudio(new Uint8Array(readFileSync(path)));

beforeAll(() => {
  mkdirSync(kitFolder);
  const { kit, song } = variedKit(63, 3);
  const { mics } = simulate(kit, song, 48000, 63);
  for (const m of mics) writeFileSync(join(kitFolder, m.spec.file), micFile(m, 48000));
});

afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe("files against sox and ffmpeg", () => {
  test.each([
    "-b 16",
    "-b 24",
    "-b 32 -e signed-integer",
    "-b 32 -e floating-point",
    "-b 64 -e floating-point",
  ])("reads what sox writes with %s", (format) => {
    const path = join(folder, "sox.wav");
    execFileSync("sox", [
      "-n",
      "-r",
      "44100",
      "-c",
      "2",
      ...format.split(" "),
      path,
      "synth",
      "0.5",
      "sine",
      "440",
      "sine",
      "550",
      "gain",
      "-6",
    ]);
    const { sampleRate, channels } = wav(path);
    expect(sampleRate).toBe(44100);
    expect(channels).toHaveLength(2);
    expect(Math.max(...channels[0]!)).toBeCloseTo(0.501, 2);
  });
  test("ffmpeg and sox read what is written, sample by sample", () => {
    const x = noise(5000, 4);
    for (const format of ["wav16", "wav24", "wav32f"] as const) {
      const path = join(folder, `${format}.wav`);
      writeFileSync(path, writeWav({ sampleRate: 48000, channels: [x, x] }, format));
      const raw = execFileSync("ffmpeg", ["-v", "error", "-i", path, "-f", "f32le", "-"], {
        maxBuffer: 1 << 26,
      });
      const decoded = new Float32Array(new Uint8Array(raw).buffer);
      const own = wav(path).channels[0]!;
      own.forEach((v, i) => expect(decoded[2 * i]).toBeCloseTo(v, 7));
      expect(execFileSync("sox", ["--i", "-s", path], { encoding: "utf8" }).trim()).toBe("5000");
    }
  });
  test("loudness and true peak agree with ffmpeg's ebur128 within 0.1 LU and 0.3 dB", () => {
    const path = join(folder, "programme.wav");
    const loud = sine(997, 0.3, 6).map((v, i) => v * (0.4 + 0.6 * Math.abs(Math.sin(i / 30000))));
    writeFileSync(
      path,
      writeWav({ sampleRate: 48000, channels: [loud, noise(loud.length, 8, 0.2)] }, "wav24"),
    );
    const [m] = JSON.parse(run("measure", path, "--json")) as {
      integratedLufs: number;
      truePeakDbtp: number;
      loudnessRangeLu: number;
    }[];
    const log = spawnSync("ffmpeg", ["-i", path, "-af", "ebur128=peak=true", "-f", "null", "-"], {
      encoding: "utf8",
    }).stderr;
    const summary = log.slice(log.lastIndexOf("Summary:"));
    const figure = (name: string) => Number(new RegExp(`${name}:\\s+(-?[\\d.]+)`).exec(summary)![1]);
    expect(Math.abs(m!.integratedLufs - figure("I"))).toBeLessThanOrEqual(0.1);
    expect(Math.abs(m!.truePeakDbtp - figure("Peak"))).toBeLessThanOrEqual(0.3);
  });
});

describe("commands", () => {
  test("a file is held against a record by third octave, however loud: an octave of EQ that sox did is found again", () => {
    const record = join(folder, "flat.wav");
    const bright = join(folder, "bright.wav");
    writeFileSync(
      record,
      writeWav({ sampleRate: 48000, channels: [noise(240000, 9).map((v) => 0.1 * v)] }, "wav32f"),
    );
    execFileSync("sox", [record, bright, "equalizer", "4000", "1q", "+8", "gain", "-12"]);
    const [found] = JSON.parse(run("measure", bright, "--record", record, "--json")) as {
      besideRecord: { thirdOctavesHz: number[]; thirdOctavesDb: number[] };
    }[];
    const { thirdOctavesHz, thirdOctavesDb } = found!.besideRecord;
    const loudest = thirdOctavesDb.indexOf(Math.max(...thirdOctavesDb));
    expect(Math.abs(Math.log2(thirdOctavesHz[loudest]! / 4000))).toBeLessThan(0.17);
    expect(Math.abs(thirdOctavesDb[loudest]! - thirdOctavesDb[8]! - 8)).toBeLessThan(0.7);
    expect(run("measure", bright, "--record", record)).toContain("beside the record crest");
  });
  test("analyse prints the JSON of docs/formats.md", () => {
    const a = JSON.parse(run("analyse", kitFolder, "--json")) as Record<string, unknown> & {
      mics: Record<string, unknown>[];
      hits: Record<string, unknown>[];
      arrivals: Record<string, unknown>[];
      tempo: Record<string, unknown>;
    };
    expect(Object.keys(a).sort()).toEqual([
      "arrivals",
      "durationSeconds",
      "hits",
      "mics",
      "sampleRate",
      "tempo",
    ]);
    for (const key of [
      "file",
      "channels",
      "piece",
      "place",
      "silent",
      "unplayed",
      "peakDbfs",
      "polarity",
      "delaySamples",
    ])
      expect(a.mics[0]).toHaveProperty(key);
    expect(Object.keys(a.arrivals[0]!).sort()).toEqual([
      "channel",
      "confidence",
      "delaySamples",
      "mic",
      "piece",
      "polarity",
    ]);
    expect(Object.keys(a.hits[0]!)).toEqual(
      expect.arrayContaining(["piece", "timeSeconds", "levelDb", "ghost"]),
    );
    expect(Object.keys(a.tempo)).toEqual(
      expect.arrayContaining(["bpm", "firstBeatSeconds", "beatsPerBar", "beats"]),
    );
  });
  test("mix writes kit, song, report and stems of the same length under their own names; render repeats it", () => {
    const out = join(folder, "mix");
    run("mix", kitFolder, "--out", out, "--stems");
    const files = readdirSync(kitFolder).sort();
    expect(readdirSync(join(out, "stems")).sort()).toEqual(files);
    const frames = wav(join(kitFolder, files[0]!)).channels[0]!.length;
    for (const f of files) expect(wav(join(out, "stems", f)).channels[0]!.length).toBe(frames);
    expect(readFileSync(join(out, "report.html"), "utf8")).toContain("What was done");
    const again = join(folder, "again");
    run("render", join(out, "song.json"), "--audio", kitFolder, "--out", again);
    expect(readFileSync(join(again, "kit.wav")).equals(readFileSync(join(out, "kit.wav")))).toBe(true);
  });
  test("a path, a finish and an EQ towards a record are fitted to the kit and told; what is set by hand holds over them", () => {
    const out = join(folder, "finished");
    const record = join(folder, "record.wav");
    writeFileSync(
      record,
      writeWav({ sampleRate: 48000, channels: [noise(96000, 5), noise(96000, 6)] }, "wav24"),
    );
    const told = run(
      "mix",
      kitFolder,
      "--out",
      out,
      "--path",
      "crushed=-12",
      "--finish",
      "glue,eq",
      "--record",
      record,
      "--set",
      "path-crushed.moves=0:0,2:-3",
    );
    expect(told).toMatch(
      /Crushed shells: at -12 dB\nglue: 1\.5 dB at half of the strokes.*\neq: mean difference from the record/s,
    );
    const { buses } = JSON.parse(readFileSync(join(out, "song.json"), "utf8")) as Pick<Song, "buses">;
    const path = buses.find((b) => b.id === "path-crushed")!;
    expect([path.level, path.levelMoves]).toEqual([
      -12,
      [
        { time: 0, db: 0 },
        { time: 2, db: -3 },
      ],
    ]);
    expect(path.chain.find((p) => p.type === "compressor")!.params["threshold"]).not.toBe(-30);
    const [before, after] = /octave ([\d.]+) dB, with it ([\d.]+) dB/.exec(told)!.slice(1).map(Number);
    expect(after!).toBeLessThan(before!);
    const kit = buses
      .at(-1)!
      .chain.filter((p) => p.on)
      .map((p) => p.type);
    expect(kit).toEqual(expect.arrayContaining(["eq", "compressor"]));
  });
  test("mix through gather with tightening off leaves every stem as it came", () => {
    const out = join(folder, "gather");
    run("mix", kitFolder, "--out", out, "--stems", "--through", "gather");
    for (const f of readdirSync(kitFolder)) {
      expect(sameSamples(wav(join(out, "stems", f)).channels, wav(join(kitFolder, f)).channels)).toBe(true);
    }
  });
  test("render gives the same bytes whatever the number of threads", () => {
    const song = join(folder, "mix", "song.json");
    const [one, two, five] = [1, 2, 5].map((threads) => {
      const out = join(folder, `threads${threads}`);
      run(
        "render",
        song,
        "--audio",
        kitFolder,
        "--out",
        out,
        "--stems",
        "--buses",
        "--format",
        "wav32f",
        "--threads",
        String(threads),
      );
      const files = ["kit.wav", "buses/Room.wav", `stems/${readdirSync(join(out, "stems"))[0]}`];
      return Buffer.concat(files.map((f) => readFileSync(join(out, f))));
    });
    expect(one!.length).toBeGreaterThan(1e6);
    expect(one!.equals(two!)).toBe(true);
    expect(one!.equals(five!)).toBe(true);
    expect(jubo("render", song, "--audio", kitFolder, "--out", folder, "--threads", "0").stderr).toMatch(
      /--threads is "0"/,
    );
  });

  test("render writes FLAC that flac itself verifies and decodes to the same samples", () => {
    const out = join(folder, "flac");
    run("render", join(folder, "mix", "song.json"), "--audio", kitFolder, "--out", out, "--format", "flac");
    const path = join(out, "kit.flac");
    execFileSync("flac", ["--silent", "--test", path]);
    execFileSync("flac", ["--silent", "--decode", "--force", "-o", join(out, "back.wav"), path]);
    expect(
      sameSamples(wav(join(out, "back.wav")).channels, wav(join(folder, "mix", "kit.wav")).channels),
    ).toBe(true);
  });
  test("process runs a chain, sample-aligned, into 32-bit float", () => {
    const chain = join(folder, "chain.json");
    writeFileSync(
      chain,
      JSON.stringify({
        processors: [
          { type: "saturation", params: { mix: 0, output: 0 } },
          { type: "trim", params: { gain: 6.0206 } },
        ],
      }),
    );
    const [input, output] = [join(folder, "in.wav"), join(folder, "out.wav")];
    const x = noise(20000, 2, 0.2);
    writeFileSync(input, writeWav({ sampleRate: 48000, channels: [x] }, "wav32f"));
    run("process", chain, input, output);
    const y = wav(output);
    expect(y.info.sampleFormat).toBe("float32");
    y.channels[0]!.forEach((v, i) => expect(Math.abs(v - 2 * x[i]!)).toBeLessThan(1e-5));
  });
  test("process runs every processor there is, each at values at which all of it works", () => {
    const [chain, input, output] = ["every.json", "every.wav", "every-out.wav"].map((n) =>
      join(folder, n),
    ) as [string, string, string];
    const x = noise(24000, 7, 0.3);
    writeFileSync(input, writeWav({ sampleRate: 48000, channels: [x, noise(24000, 8, 0.3)] }, "wav24"));
    for (const type of processorTypes) {
      const processors = [{ type: type.type, params: type.lively }];
      writeFileSync(chain, JSON.stringify({ processors, hits: [0.1, 0.3], beats: [0, 0.2, 0.4] }));
      run("process", chain, input, output);
      const { channels } = wav(output);
      expect(channels.map((c) => c.length)).toEqual([24000, 24000]);
      expect(channels.every((c) => c.every(Number.isFinite))).toBe(true);
    }
  });
  test("process answers with an impulse response that is given, and says when its rate is another", () => {
    const [chain, input, output, ir] = ["space.json", "dry.wav", "wet.wav", "ir.wav"].map((n) =>
      join(folder, n),
    ) as [string, string, string, string];
    const x = noise(6000, 3, 0.3);
    const response = new Float32Array(3000);
    response[2500] = 0.5;
    writeFileSync(chain, JSON.stringify({ processors: [{ type: "recordedSpace", params: {} }] }));
    writeFileSync(input, writeWav({ sampleRate: 48000, channels: [x] }, "wav32f"));
    writeFileSync(ir, writeWav({ sampleRate: 48000, channels: [response] }, "wav32f"));
    run("process", chain, input, output, "--response", ir);
    const { channels } = wav(output);
    expect(channels).toHaveLength(2);
    for (let i = 2500; i < 6000; i += 100) expect(channels[0]![i]).toBeCloseTo(0.5 * x[i - 2500]!, 6);
    writeFileSync(ir, writeWav({ sampleRate: 44100, channels: [response] }, "wav32f"));
    const { status, stderr } = jubo("process", chain, input, output, "--response", ir);
    expect([status, stderr]).toEqual([1, expect.stringContaining("ir.wav has 44100 Hz")]);
  });
  test("every error is one clear line and exit code 1", () => {
    writeFileSync(
      join(folder, "bad.json"),
      JSON.stringify({ processors: [{ type: "gate", params: { threshold: 12 } }] }),
    );
    for (const [args, text] of [
      [["explode"], 'unknown command "explode"'],
      [["analyse", join(folder, "nowhere")], "is not a folder"],
      [["analyse", join(folder, "flac")], ""],
      [["mix", kitFolder, "--out", join(folder, "x"), "--through", "cook"], 'unknown step "cook"'],
      [
        ["mix", kitFolder, "--out", join(folder, "x"), "--path", "squashed=-6"],
        '--path is "squashed"; it must be one of crushed',
      ],
      [["mix", kitFolder, "--out", join(folder, "x"), "--path", "crushed"], "--path wants RECIPE=DB"],
      [["mix", kitFolder, "--out", join(folder, "x"), "--finish", "eq"], "leans on a record"],
      [["mix", kitFolder, "--out", join(folder, "x"), "--set", "tighten.strength=7"], "tighten.strength"],
      [["process", join(folder, "bad.json"), "a.wav", "b.wav"], "threshold is 12 dB"],
      [["params", "fuzz"], 'unknown processor "fuzz"'],
    ] as [string[], string][]) {
      const { status, stderr } = jubo(...args);
      if (text === "") continue; // a folder with other files in it may hold something usable
      expect(stderr.trim().split("\n")).toHaveLength(1);
      expect(stderr).toContain(text);
      expect(status).toBe(1);
    }
    expect(existsSync(join(folder, "x", "kit.wav"))).toBe(false);
  });
  test("the reference page of the processors is what their declarations say", () => {
    expect(readFileSync("docs/processors.md", "utf8")).toBe(describeProcessors());
  });
});
