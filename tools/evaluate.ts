// Analyses sessions with known truth (FOLDER of audio files, FOLDER.truth/truth.json beside it), from whatever world, and prints how right
// the analysis is and how well its sureness holds, each world in a column of its own. tools/makeSessions.ts writes sessions of
// two worlds; others' sessions in the same form are read as they are.
// A world is the part of the folder's name before its first "-", or what --world NAME says of the folders behind it.
// usage: npx esbuild tools/evaluate.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/evaluate.mjs
//        node dist/evaluate.mjs [--world NAME] FOLDER... [--world NAME FOLDER...]
import { basename } from "node:path";
import { loadKit } from "../src/cli/commands/analyse";
import { analyseKit } from "../src/core/analysis/analyseKit";
import { quantile } from "../src/core/signal/level";
import { analysisThreads } from "../src/server/analysis/threads";
import { emptyScore, scoreAnalysis, type Score } from "./sessionScore";
import { say, worldOf } from "./training";
import { readTruth } from "./worlds/truth";
import { onTimeLine } from "../src/core/analysis/analysed";

const worlds = new Map<string, Score>();
let world: string | null = null;
for (let args = process.argv.slice(2); args.length > 0;) {
  const folder = args.shift()!.replace(/\/$/, "");
  if (folder === "--world") {
    world = args.shift() ?? null;
    continue;
  }
  const name = world ?? worldOf(folder);
  const score = worlds.get(name) ?? worlds.set(name, emptyScore()).get(name)!;
  const { sampleRate, mics } = await loadKit(folder);
  const threads = analysisThreads();
  const analysis = await analyseKit(mics.map(onTimeLine), sampleRate, threads).finally(threads.close);
  const named = !/nameless|anonymous/.test(basename(folder));
  scoreAnalysis(score, readTruth(folder), analysis, named);
  say(`${basename(folder)}: ${analysis.hits.length} strokes, ${analysis.tempo?.bpm.toFixed(2) ?? "no"} bpm`);
}

const names = [...worlds.keys()];
const rows = [
  ...new Set([...worlds.values()].flatMap((s) => [...s.shares.keys(), ...s.values.keys()])),
].sort();
say(`\n| | ${names.join(" | ")} |\n|---|${names.map(() => "---|").join("")}`);
for (const row of rows) {
  const cells = names.map((n) => {
    const { shares, values } = worlds.get(n)!;
    const [share, list] = [shares.get(row), values.get(row)];
    if (share)
      return row.includes(" F")
        ? (share[0] / share[1]).toFixed(3)
        : `${((100 * share[0]) / share[1]).toFixed(1)} % (${share[1]})`;
    return list
      ? `${quantile(list, 0.5).toFixed(2)}, p95 ${quantile(list, 0.95).toFixed(2)}, worst ${Math.max(...list).toFixed(2)}`
      : "";
  });
  say(`| ${row} | ${cells.join(" | ")} |`);
}
say(
  `\nSureness: of what is told so sure, so much is right (told).\n\n| | ${names.join(" | ")} |\n|---|${names.map(() => "---|").join("")}`,
);
for (const kind of new Set([...worlds.values()].flatMap((s) => [...s.reliability.keys()])))
  for (let tenth = 0; tenth < 10; tenth++) {
    const heaps = names.map((n) => worlds.get(n)!.reliability.get(kind)?.[tenth]);
    if (!heaps.some((h) => h && h.told > 0)) continue;
    say(
      `| ${kind}, ${10 * tenth} to ${10 * tenth + 10} % | ${heaps.map((h) => (h && h.told > 0 ? `${((100 * h.sure) / h.told).toFixed(0)} → ${((100 * h.right) / h.told).toFixed(0)} % (${h.told})` : "")).join(" | ")} |`,
    );
  }
