// Close mics cleaned by what Jubo proposes, against each drum's own sound, beside a plain gate, an expander and a crushed,
// high-passed, inverted copy at their best settings. Seeds below 400 were used for tuning; report with others.
// usage: bench clean [FIRST LAST]; figures lie in test-results/bench-clean.json.
import { mkdirSync, writeFileSync } from "node:fs";
import { cleanScore, type CleanScore } from "../../demo/cleanScore";
import { demoSampleRate, micFile } from "../../demo/demoSong";
import { simulate } from "../../demo/simulate";
import { hardKit, variedKit } from "../../demo/varied";
import { memoryReader, renderSong } from "../../src/core/engine/renderSong";
import { readAudio } from "../../src/core/file/audioFile";
import { guessLabels } from "../../src/core/gather/labels";
import { plainGate } from "../../src/core/clean/gates";
import type { Facts } from "../../src/core/facts/facts";
import { isShell, type Mic, type ProcessorState, type Song } from "../../src/core/song/song";
import { mixSteps } from "../../src/server/render/mixSteps";
import { bestCrushedCopy, bestExpander, bestGate } from "./cleanReferences";

const [first = 401, last = 403] = process.argv.slice(2, 4).map(Number);
const seeds = Array.from({ length: last - first + 1 }, (_, i) => first + i);
const kits = seeds.flatMap((seed) => [
  { name: `varied ${seed}`, make: variedKit, seed },
  { name: `hard ${seed}`, make: hardKit, seed },
]);

/** The mics' cleaning alone, in place of the recording, so that it can be laid over the drums' own sound. */
function cleaningOf(
  song: Song,
  types: readonly string[],
  gate: (mic: Mic) => ProcessorState["params"] | null = () => null,
): Song {
  const processor = (mic: Mic, p: ProcessorState): ProcessorState => {
    const own = p.type === "gate" ? gate(mic) : null;
    const params =
      own ??
      (p.type === "delay" ? { delay: 0 } : p.type === "polarity" ? { polarity: "as recorded" } : p.params);
    const on = p.type === "trim" || p.type === "pan" || (types.includes(p.type) && (p.on || own !== null));
    return { ...p, on, params };
  };
  return { ...song, mics: song.mics.map((m) => ({ ...m, chain: m.chain.map((p) => processor(m, p)) })) };
}

/** What the mics give; first channel, by mic. */
async function stemsOf(song: Song, audio: readonly (readonly Float32Array[])[]): Promise<Float32Array[]> {
  const out = song.mics.map(() => new Float32Array(song.frames));
  const filled = song.mics.map(() => 0);
  await renderSong(
    song,
    memoryReader(audio),
    { kit: false, stems: true, buses: false },
    (name, channels, frames) => {
      const m = song.mics.findIndex((x) => name === `stem:${x.id}`);
      out[m]!.set(channels[0]!.subarray(0, frames), filled[m]!);
      filled[m]! += frames;
    },
  );
  return out;
}

interface Row extends CleanScore {
  readonly kit: string;
  readonly drum: string;
  readonly way: string;
}
const rows: Row[] = [];
const ways: Record<string, (song: Song, facts: Facts) => Song> = {
  proposed: (song) => cleaningOf(song, ["cancel", "gate", "dynamicEq"]),
  "cancel alone": (song) => cleaningOf(song, ["cancel"]),
  "gate by strokes": (song, facts) => cleaningOf(song, ["gate"], (m) => plainGate(facts, m)?.params ?? null),
};
const references = {
  "best fixed gate": bestGate,
  "best expander": bestExpander,
  "best crushed copy": bestCrushedCopy,
};
for (const { name, make, seed } of kits) {
  const { kit, song: played } = make(seed);
  const { mics, truth } = simulate(kit, played, demoSampleRate, seed);
  const labels = guessLabels(mics.map((m) => ({ file: m.spec.file, channels: m.channels.length })));
  const recorded = mics.map((m, i) => ({
    file: m.spec.file,
    label: labels[i]!,
    channels: [...readAudio(micFile(m, demoSampleRate)).channels],
  }));
  const mix = await mixSteps(name, recorded, demoSampleRate, { through: "clean", tighten: {} });
  const audio = mix.mics.map((m) => m.channels);
  const results = await Promise.all(
    Object.values(ways).map((way) => stemsOf(way(mix.song, mix.facts), audio)),
  );
  mics.forEach((m, i) => {
    const { piece, unplayed, reference, silent, lateBy } = mix.song.mics[i]!;
    if (!isShell(piece) || unplayed || silent || m.spec.drift !== 0) return;
    const own = m.own[0]!;
    const raw = audio[i]![0]!;
    const frames = (ghost: boolean) =>
      truth.hits
        .filter((h) => h.piece === piece && h.ghost === ghost)
        .map((h) => h.timeSeconds * demoSampleRate + lateBy);
    const score = (way: string, x: Float32Array) =>
      rows.push({
        kit: name,
        drum: `${piece.replace(/\d|floor/, "tom").replace("tomtom", "tom")}${reference ? ", second mic" : ""}`,
        way,
        ...cleanScore(own, raw, x, frames(false), frames(true), demoSampleRate),
      });
    Object.keys(ways).forEach((way, w) => score(way, results[w]![i]!));
    for (const [way, make] of Object.entries(references)) score(way, make(own, raw, demoSampleRate));
  });
  process.stderr.write(`${name}\n`);
}

const sorted = (list: readonly number[]) => [...list].filter(Number.isFinite).sort((a, b) => a - b);
const at = (list: readonly number[], q: number) =>
  sorted(list)[Math.min(sorted(list).length - 1, Math.floor(q * sorted(list).length))] ?? NaN;
const one = (x: number) => (Number.isFinite(x) ? x.toFixed(1) : "-").padStart(6);
process.stdout.write(
  "drum                way               SI-SDR +dB: middle, worst   bleed dB: middle, least   strokes dB: middle, 5 of 100   ghosts kept   clicks\n",
);
for (const drum of [...new Set(rows.map((r) => r.drum))].sort())
  for (const way of [...Object.keys(ways), ...Object.keys(references)]) {
    const own = rows.filter((r) => r.drum === drum && r.way === way);
    const gains = own.map((r) => r.siSdrGainDb);
    const bleed = own.map((r) => r.bleedDb);
    const strokes = own.flatMap((r) => r.strokesDb);
    const [kept, ghosts, clicks] = [
      own.reduce((s, r) => s + r.ghostsKept, 0),
      own.reduce((s, r) => s + r.ghosts, 0),
      own.reduce((s, r) => s + r.clicks, 0),
    ];
    process.stdout.write(
      `${drum.padEnd(19)} ${way.padEnd(16)} ${one(at(gains, 0.5))} ${one(at(gains, 0))}              ${one(at(bleed, 0.5))} ${one(at(bleed, 1))}           ${one(at(strokes, 0.5))} ${one(at(strokes, 0.05))}                ${kept}/${ghosts}   ${clicks}\n`,
    );
  }
mkdirSync("test-results", { recursive: true });
writeFileSync("test-results/bench-clean.json", JSON.stringify(rows));
