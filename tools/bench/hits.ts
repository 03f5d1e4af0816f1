// Strokes found against the simulator's truth on kits that were not used for tuning, beside aubio's onset detector on the
// same close mics. Prints a table; the figures lie in test-results/bench-hits.json.
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { demoSampleRate, micFile } from "../../demo/demoSong";
import { scoreHits, type HitScore } from "../../demo/score";
import { simulate } from "../../demo/simulate";
import { hardKit, variedKit } from "../../demo/varied";
import { analyseKit } from "../../src/core/analysis/analyseKit";
import { guessLabels } from "../../src/core/gather/labels";
import { isShell, type Piece } from "../../src/core/song/song";

/** Seeds of 401 and up are for reports only. */
const kits = [401, 402, 403].flatMap((seed) => [
  { name: `varied ${seed}`, make: variedKit, seed },
  { name: `hard ${seed}`, make: hardKit, seed },
]);

interface Found {
  piece: Piece;
  time: number;
  ghost: boolean;
}

/** Onsets of one file as `aubioonset` prints them, s. Every one is taken for a main stroke, and for a ghost note too. */
const aubioOnsets = (path: string): number[] =>
  execFileSync("aubioonset", ["-i", path], { encoding: "utf8", maxBuffer: 1 << 26 })
    .split("\n")
    .map(Number.parseFloat)
    .filter(Number.isFinite);

const rows: { kit: string; ours: HitScore; aubio: HitScore; ms: number }[] = [];
const folder = mkdtempSync(join(tmpdir(), "jubo-bench-"));
try {
  for (const { name, make, seed } of kits) {
    const { kit, song } = make(seed);
    const { mics, truth } = simulate(kit, song, demoSampleRate, seed);
    const labels = guessLabels(mics.map((m) => ({ file: m.spec.file, channels: m.channels.length })));
    const started = performance.now();
    const found = await analyseKit(
      mics.map((m, i) => ({ file: m.spec.file, label: labels[i]!, channels: m.channels })),
      demoSampleRate,
    );
    const ms = performance.now() - started;
    const onsets: Found[] = [];
    for (const m of mics) {
      const first = mics.find((x) => x.spec.piece === m.spec.piece) === m;
      if (!first || !isShell(m.spec.piece as Piece)) continue;
      const path = join(folder, "mic.wav");
      writeFileSync(path, micFile(m, demoSampleRate));
      for (const time of aubioOnsets(path))
        for (const ghost of [false, true]) onsets.push({ piece: m.spec.piece as Piece, time, ghost });
    }
    rows.push({
      kit: name,
      ours: scoreHits(found.hits, truth.hits),
      aubio: scoreHits(onsets, truth.hits),
      ms,
    });
  }
} finally {
  rmSync(folder, { recursive: true, force: true });
}
const two = (x: number) => x.toFixed(3).padStart(7);
process.stdout.write(
  `${"kit".padEnd(12)} main 5 ms (aubio)    20 ms (aubio)     ghosts (aubio)    hat, ride  timing, 95 of 100\n`,
);
for (const { kit, ours, aubio } of rows)
  process.stdout.write(
    `${kit.padEnd(12)} ${two(ours.mainF)} ${two(aubio.mainF)}  ${two(ours.mainWideF)} ${two(aubio.mainWideF)}  ${two(ours.ghostF)} ${two(aubio.ghostF)}  ${two(ours.cymbalF)}    ${(1000 * ours.timingMedian).toFixed(2)} ms, ${(1000 * ours.timing95).toFixed(2)} ms\n`,
  );
mkdirSync("test-results", { recursive: true });
writeFileSync("test-results/bench-hits.json", JSON.stringify(rows, null, 1));
