// Close mics cleaned by what Jubo proposes, against each drum's own sound, beside a plain gate and an expander at their
// best thresholds. Seeds below 400 were used for tuning; report with others.
// usage: bench clean [FIRST LAST]; figures lie in test-results/bench-clean.json.
import { mkdirSync, writeFileSync } from "node:fs";
import { cleanScore, type CleanScore } from "../../demo/cleanScore";
import { demoSampleRate, micFile } from "../../demo/demoSong";
import { simulate } from "../../demo/simulate";
import { hardKit, variedKit } from "../../demo/varied";
import { memoryReader, renderSong } from "../../src/core/engine/renderSong";
import { readAudio } from "../../src/core/file/audioFile";
import { guessLabels } from "../../src/core/gather/labels";
import { isShell, type Mic, type Song } from "../../src/core/song/song";
import { mixSteps } from "../../src/server/render/mixSteps";
import { bestExpander, bestGate } from "./cleanReferences";

const [first = 401, last = 403] = process.argv.slice(2, 4).map(Number);
const seeds = Array.from({ length: last - first + 1 }, (_, i) => first + i);
const kits = seeds.flatMap((seed) => [{ name: `varied ${seed}`, make: variedKit, seed }, { name: `hard ${seed}`, make: hardKit, seed }]); // prettier-ignore

/** The mic's cleaning alone, so that it can be laid over the drum's own sound. */
const cleaningOf = (mic: Mic, types: readonly string[]): Mic => ({
  ...mic,
  chain: mic.chain.map((p) => ({ ...p, on: p.type === "trim" || p.type === "pan" || (p.on && types.includes(p.type)), params: p.type === "delay" ? { ...p.params, delay: 0 } : p.type === "polarity" ? { polarity: "as recorded" } : p.params })),
}); // prettier-ignore

/** What the mics give with some of their cleaning on; first channel, by mic. */
async function cleanedBy(
  song: Song,
  audio: readonly Float32Array[][],
  types: readonly string[],
): Promise<Float32Array[]> {
  const alone = { ...song, mics: song.mics.map((m) => cleaningOf(m, types)) };
  const out = song.mics.map(() => new Float32Array(song.frames));
  const filled = song.mics.map(() => 0);
  await renderSong(alone, memoryReader(audio), { kit: false, stems: true, buses: false }, (name, channels, frames) => {
    const m = song.mics.findIndex((x) => name === `stem:${x.id}`);
    out[m]!.set(channels[0]!.subarray(0, frames), filled[m]!);
    filled[m]! += frames;
  }); // prettier-ignore
  return out;
}

interface Row extends CleanScore {
  readonly kit: string;
  readonly drum: string;
  readonly way: string;
}
const rows: Row[] = [];
const ways = {
  proposed: ["cancel", "gate", "dynamicEq"],
  "cancel alone": ["cancel"],
  "gate alone": ["gate"],
};
for (const { name, make, seed } of kits) {
  const { kit, song: played } = make(seed);
  const { mics, truth } = simulate(kit, played, demoSampleRate, seed);
  const labels = guessLabels(mics.map((m) => ({ file: m.spec.file, channels: m.channels.length })));
  const recorded = mics.map((m, i) => ({ file: m.spec.file, label: labels[i]!, channels: [...readAudio(micFile(m, demoSampleRate)).channels] })); // prettier-ignore
  const mix = await mixSteps(name, recorded, demoSampleRate, { through: "clean", tighten: {} });
  const audio = mix.mics.map((m) => m.channels);
  const results = await Promise.all(Object.values(ways).map((types) => cleanedBy(mix.song, audio, types)));
  mics.forEach((m, i) => {
    const { piece, unplayed, reference, silent, lateBy } = mix.song.mics[i]!;
    if (!isShell(piece) || unplayed || silent || m.spec.drift !== 0) return;
    const own = m.own[0]!;
    const raw = audio[i]![0]!;
    const frames = (ghost: boolean) =>
      truth.hits.filter((h) => h.piece === piece && h.ghost === ghost).map((h) => h.timeSeconds * demoSampleRate + lateBy); // prettier-ignore
    const score = (way: string, x: Float32Array) =>
      rows.push({ kit: name, drum: `${piece.replace(/\d|floor/, "tom").replace("tomtom", "tom")}${reference ? ", second mic" : ""}`, way, ...cleanScore(own, raw, x, frames(false), frames(true), demoSampleRate) }); // prettier-ignore
    Object.keys(ways).forEach((way, w) => score(way, results[w]![i]!));
    score("best fixed gate", bestGate(own, raw, demoSampleRate));
    score("best expander", bestExpander(own, raw, demoSampleRate));
  });
  process.stderr.write(`${name}\n`);
}

const sorted = (list: readonly number[]) => [...list].filter(Number.isFinite).sort((a, b) => a - b);
const at = (list: readonly number[], q: number) => sorted(list)[Math.min(sorted(list).length - 1, Math.floor(q * sorted(list).length))] ?? NaN; // prettier-ignore
const one = (x: number) => (Number.isFinite(x) ? x.toFixed(1) : "-").padStart(6);
process.stdout.write("drum                way               SI-SDR +dB: middle, worst   bleed dB: middle, least   strokes dB: middle, 5 of 100   ghosts kept   clicks\n"); // prettier-ignore
for (const drum of [...new Set(rows.map((r) => r.drum))].sort())
  for (const way of [...Object.keys(ways), "best fixed gate", "best expander"]) {
    const own = rows.filter((r) => r.drum === drum && r.way === way);
    const gains = own.map((r) => r.siSdrGainDb);
    const bleed = own.map((r) => r.bleedDb);
    const strokes = own.flatMap((r) => r.strokesDb);
    const [kept, ghosts, clicks] = [own.reduce((s, r) => s + r.ghostsKept, 0), own.reduce((s, r) => s + r.ghosts, 0), own.reduce((s, r) => s + r.clicks, 0)]; // prettier-ignore
    process.stdout.write(`${drum.padEnd(19)} ${way.padEnd(16)} ${one(at(gains, 0.5))} ${one(at(gains, 0))}              ${one(at(bleed, 0.5))} ${one(at(bleed, 1))}           ${one(at(strokes, 0.5))} ${one(at(strokes, 0.05))}                ${kept}/${ghosts}   ${clicks}\n`); // prettier-ignore
  }
mkdirSync("test-results", { recursive: true });
writeFileSync("test-results/bench-clean.json", JSON.stringify(rows));
