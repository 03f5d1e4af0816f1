import { writeFileSync } from "node:fs";
import { basename, resolve } from "node:path";
import { parseArgs } from "node:util";
import { writeHitsMidi } from "../../core/file/hitsMidi";
import { onTimeLine, type KitAnalysis, type RecordedMic } from "../../core/analysis/analysed";
import { analyseKit } from "../../core/analysis/analyseKit";
import { describeFaults } from "../../core/gather/faults";
import type { Tone } from "../../core/facts/facts";
import { findTone, ringTold } from "../../core/shape/findTone";
import { guessLabels } from "../../core/gather/labels";
import { analysisThreads } from "../../server/analysis/threads";
import { loadFolder } from "../../server/audio/loadFolder";
import { one, print, printJson, remark, type Command } from "../command";

const usage = "analyse FOLDER [--json] [--midi FILE]";
const round = (x: number, digits: number) => Number(x.toFixed(digits));

/** Mics of a folder with their guessed labels. */
export async function loadKit(folder: string): Promise<{ sampleRate: number; mics: RecordedMic[] }> {
  const { sampleRate, mics, remarks } = await loadFolder(folder);
  remarks.forEach(remark);
  const labels = guessLabels(mics.map((m) => ({ file: m.file, channels: m.channels.length })));
  return { sampleRate, mics: mics.map((m, i) => ({ ...m, label: labels[i]! })) };
}

/** The analysis as the command line prints it (docs/formats.md). */
export const analysisJson = (
  a: KitAnalysis,
  remarks: readonly (readonly string[])[],
  tones: readonly (Tone | null)[] = [],
): object => ({
  sampleRate: a.sampleRate,
  durationSeconds: round(a.durationSeconds, 4),
  mics: a.mics.map((m, i) => ({
    file: m.file,
    channels: m.channels,
    piece: m.piece,
    place: m.place,
    sure: m.sure,
    silent: m.silent,
    unplayed: m.unplayed,
    peakDbfs: round(m.peakDbfs, 2),
    reference: m.reference,
    polarity: m.polarity,
    delaySamples: round(m.delaySamples, 3),
    confidence: round(m.confidence, 3),
    strokes: m.strokes,
    driftPpm: round(m.driftPpm, 2),
    ...(tones[i]
      ? {
          fundamentalHz: round(tones[i].fundamental, 2),
          ringHz: round(tones[i].ring, 1),
          ringStandsOutDb: round(tones[i].ringDb, 1),
        }
      : {}),
    remarks: remarks[i]!,
  })),
  arrivals: a.arrivals.map((x) => ({
    ...x,
    delaySamples: round(x.delaySamples, 2),
    confidence: round(x.confidence, 3),
  })),
  tempo: a.tempo && {
    bpm: round(a.tempo.bpm, 4),
    firstBeatSeconds: round(a.tempo.firstBeat, 5),
    beatsPerBar: a.tempo.beatsPerBar,
    compound: a.tempo.compound,
    pickUp: a.tempo.pickUp,
    follows: a.tempo.follows,
    meters: a.tempo.meters,
    beats: a.tempo.beats.map((b) => round(b, 5)),
  },
  hits: a.hits.map((h) => ({
    piece: h.piece,
    timeSeconds: round(h.time, 6),
    levelDb: round(h.levelDb, 2),
    ghost: h.ghost,
    kind: h.kind,
    sure: round(h.sure, 2),
  })),
});

function toneWords(tone: Tone | null): string {
  if (!tone) return "";
  const ring = tone.ringDb >= ringTold ? `, rings at ${tone.ring.toFixed(0)} Hz` : "";
  return `sounds at ${tone.fundamental.toFixed(1)} Hz${ring}`;
}

export const analyse: Command = {
  usage,
  help: "Says what every file is, how mics lie against each other, where drums sound and ring, the tempo and every stroke.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { json: { type: "boolean" }, midi: { type: "string" } },
    });
    const folder = one(positionals, usage);
    const { sampleRate, mics: recorded } = await loadKit(folder);
    const mics = recorded.map(onTimeLine);
    const threads = analysisThreads();
    const asks = recorded.map(({ channels }) => ({ channels, start: 0, sampleRate }));
    const [a, looks] = await Promise.all([
      analyseKit(mics, sampleRate, threads),
      threads.runBeside("look", asks),
    ]).finally(() => threads.close());
    const remarks = a.mics.map((m, i) =>
      m.silent ? [] : describeFaults(looks[i]!.faults, m.peakDbfs, m.piece),
    );
    const tones = a.mics.map((m, i): Tone | null => {
      if (m.silent || m.unplayed) return null;
      const mains = a.hits.filter((h) => h.piece === m.piece && !h.ghost).map((h) => h.time);
      return findTone(mics[i]!.channels[0]!, m.piece, mains, sampleRate);
    });
    if (values.midi) writeFileSync(values.midi, writeHitsMidi(a.hits, a.tempo, basename(resolve(folder))));
    if (values.json) return printJson(analysisJson(a, remarks, tones));
    for (const [i, m] of a.mics.entries()) {
      const state = m.silent
        ? "silent"
        : m.unplayed
          ? "never played"
          : m.reference
            ? `${m.polarity < 0 ? "inverted, " : ""}${m.delaySamples.toFixed(2)} smp after ${m.reference}`
            : "";
      print(
        `${m.file.padEnd(28)} ${m.piece.padEnd(9)} ${m.place.padEnd(8)} ${m.peakDbfs.toFixed(1).padStart(6)} dBFS  ${[state, toneWords(tones[i]!), ...remarks[i]!].filter((x) => x).join("; ")}`,
      );
    }
    const counts = [...new Set(a.hits.map((h) => h.piece))].map(
      (p) => `${a.hits.filter((h) => h.piece === p).length} ${p}`,
    );
    print(
      `${a.tempo ? `${a.tempo.bpm.toFixed(2)} bpm, first beat at ${a.tempo.firstBeat.toFixed(3)} s` : "no tempo"}; strokes: ${counts.join(", ") || "none"}`,
    );
  },
};
