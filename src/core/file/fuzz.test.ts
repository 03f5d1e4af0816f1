import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  aiffCommon,
  iff,
  iffChunk,
  integers,
  le,
  pcm,
  riff,
  riffChunk,
  someNoise,
  wavFormat,
} from "../testing/files";
import { noise } from "../testing/signals";
import { readAudio } from "./audioFile";
import { audioLimits } from "./audioInfo";
import { AudioFileError } from "./sampleFormat";
import { wavHeader, writeWav } from "./wavWrite";

const frames = someNoise.length;
const samples16 = pcm(integers(someNoise, 16), 16, true);
const bext = riffChunk("bext", [...new Array<number>(338).fill(0), ...le(48000, 8), 1, 0]);
const extensible = [
  ...wavFormat(0xfffe, 24, 1, 48000),
  ...le(22, 2),
  ...le(24, 2),
  ...le(3, 4),
  1,
  0,
  0,
  0,
  0,
  0,
  16,
  0,
  128,
  0,
  0,
  170,
  0,
  56,
  155,
  113,
];
const cue = riffChunk("cue ", [
  ...le(1, 4),
  ...le(1, 4),
  ...le(0, 4),
  ...[100, 97, 116, 97],
  ...le(0, 8),
  ...le(50, 4),
]);
const long = Buffer.concat([
  wavHeader("wav16", 1, 48000, 0x90000000).map((v, i) => (i >= 28 && i < 36 ? le(600, 8)[i - 28]! : v)),
  Uint8Array.from(samples16),
]);

/** A file of every kind that is read; the mutations start from these. */
const kinds: readonly [string, Uint8Array][] = [
  ["16 bit", writeWav({ sampleRate: 48000, channels: [noise(300, 1), noise(300, 2)] }, "wav16")],
  ["float", writeWav({ sampleRate: 44100, channels: [noise(300, 3)] }, "wav32f")],
  [
    "broadcast, with markers",
    riff(bext, riffChunk("fmt ", wavFormat(1, 16, 1, 48000)), riffChunk("data", samples16), cue),
  ],
  [
    "extensible",
    riff(riffChunk("fmt ", extensible), riffChunk("data", pcm(integers(someNoise, 24), 24, true))),
  ],
  ["RF64", long],
  [
    "AIFF",
    iff(
      "AIFF",
      iffChunk("COMM", aiffCommon(frames, 16, 1, 44100)),
      iffChunk("SSND", [0, 0, 0, 0, 0, 0, 0, 0, ...samples16]),
    ),
  ],
  [
    "AIFF-C",
    iff(
      "AIFC",
      iffChunk("COMM", aiffCommon(frames, 16, 1, 44100, "sowt")),
      iffChunk("SSND", [0, 0, 0, 0, 0, 0, 0, 0, ...samples16]),
    ),
  ],
];

describe("hostile files", () => {
  test.each(kinds)("%s as it should be is read", (_, file) => {
    expect(readAudio(file).channels[0]!.length).toBe(frames);
  });
  // 7 kinds of 2,000 mutations each: bytes changed, runs of 0 or 255 (lengths of 2^32), pieces cut out, doubled, cut off.
  test.each(kinds)("%s: no mutation crashes, hangs or claims what is not there", (_, file) => {
    const head = Math.min(file.length, 400);
    const byte = fc.record({
      at: fc.oneof(fc.nat(head - 1), fc.nat(file.length - 1)),
      value: fc.oneof(fc.nat(255), fc.constantFrom(0, 1, 127, 128, 255)),
      run: fc.constantFrom(1, 1, 1, 2, 4, 8),
    });
    const mutation = fc.record({
      bytes: fc.array(byte, { minLength: 1, maxLength: 6 }),
      cut: fc.option(fc.tuple(fc.nat(file.length), fc.nat(64)), { freq: 4 }),
      double: fc.option(fc.tuple(fc.nat(head), fc.nat(64)), { freq: 6 }),
      length: fc.option(fc.nat(file.length), { freq: 4 }),
    });
    fc.assert(
      fc.property(mutation, ({ bytes, cut, double, length }) => {
        let list = [...file];
        for (const { at, value, run } of bytes)
          for (let i = at; i < at + run && i < list.length; i++) list[i] = value;
        if (cut) list.splice(cut[0], cut[1]);
        if (double) list.splice(double[0], 0, ...list.slice(double[0], double[0] + double[1]));
        if (length !== null) list = list.slice(0, length);
        const mutated = Uint8Array.from(list);
        try {
          const { info, channels, markers } = readAudio(mutated);
          const { frames: n, frameBytes, dataStart, sampleRate, timeReference } = info;
          return (
            n > 0 &&
            channels.length >= audioLimits.channels[0] &&
            channels.length <= audioLimits.channels[1] &&
            channels.every((x) => x.length === n && x.every(Number.isFinite)) &&
            dataStart + n * frameBytes <= mutated.length &&
            sampleRate >= audioLimits.sampleRate[0] &&
            sampleRate <= audioLimits.sampleRate[1] &&
            (timeReference === null || Number.isSafeInteger(timeReference)) &&
            markers.every((m) => Number.isSafeInteger(m.frame))
          );
        } catch (error) {
          return error instanceof AudioFileError;
        }
      }),
      { numRuns: 2000 },
    );
  });
});
