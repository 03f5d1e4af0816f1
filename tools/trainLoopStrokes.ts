// Fits the network that tells strokes in a baked loop (src/core/loops/loopStrokeWeights.json) on loops mixed from sessions with known truth.
// With --worlds every world is judged before by a network fitted on the other worlds alone; the table says how well.
// usage: node dist/trainLoopStrokes.mjs OUT.json [--worlds] [--cache DIR] SESSION...   (folders with FOLDER.truth/truth.json beside them)
import { writeFileSync } from "node:fs";
import { basename } from "node:path";
import {
  bandCount,
  candidatesOf,
  featureBlocks,
  featureCount,
  featuresAt,
  hopSeconds,
  loopLooks,
} from "../src/core/loops/loopLooks";
import { loopDrums } from "../src/core/loops/loopDrums";
import { askNet, type StrokeNet } from "../src/core/loops/strokeNet";
import { fitNet, type NetSample } from "./fitNet";
import { loopsOf } from "./loopData";
import { kept, originOf, say, trainingArguments, worldOf } from "./training";

/** Loops of a session, and how far a candidate may lie from a stroke that it stands for, s. */
const loopsEach = 6;
const near = 0.026;

interface SessionSamples {
  readonly world: string;
  readonly samples: NetSample[];
}

/** Instants of a session's loops, and which drums are struck at each. */
function samplesOf(folder: string): NetSample[] {
  return loopsOf(folder, loopsEach, folder.length + Number(/\d+$/.exec(folder)?.[0] ?? 0)).flatMap(
    ({ audio, sampleRate, strokes }) => {
      const looks = loopLooks([audio], sampleRate);
      const times = candidatesOf(looks);
      const samples = times.map((t) => {
        const x = new Float32Array(featureCount);
        featuresAt(looks, t, x);
        return { x, y: loopDrums.map(() => 0) };
      });
      loopDrums.forEach((drum, k) => {
        for (const { time } of strokes[drum]) {
          const off = times.map((t) => Math.abs(t * hopSeconds - time));
          const best = off.indexOf(Math.min(...off));
          if (best >= 0 && off[best]! < near) samples[best]!.y[k] = 1;
        }
      });
      return samples;
    },
  );
}

const { levels, rises } = featureBlocks;
const blocks = levels + rises + featureBlocks.loud;
/** As another mic and another drum would have it: some curve over the bands, and all a third of an octave higher or lower. */
function vary(x: Float32Array, random: () => number): void {
  const wave = () => 4 * (random() + random() + random() + random() - 2) * 1.7;
  const [a, b, c, d] = [wave(), wave(), 2 * Math.PI * random(), wave()];
  for (let band = 0; band < bandCount; band++) {
    const at = (2 * band) / (bandCount - 1) - 1;
    const lift = a * at + b * Math.cos(1.4 * Math.PI * at + c) + d * (Math.cos(2.6 * Math.PI * at) - 0.2);
    for (let block = 0; block < blocks; block++)
      if (block < levels || block >= levels + rises) x[block * bandCount + band]! += lift;
  }
  const shift = random() < 0.3 ? 1 : random() < 0.4 ? -1 : 0;
  for (let block = 0; shift !== 0 && block < blocks; block++) {
    const from = block * bandCount;
    const copy = x.slice(from, from + bandCount);
    for (let band = 0; band < bandCount; band++)
      x[from + band] = copy[Math.max(0, Math.min(bandCount - 1, band - shift))]!;
  }
}

const fit = (sessions: readonly SessionSamples[]): StrokeNet =>
  fitNet(
    sessions.flatMap((s) => s.samples),
    originOf("tools/trainLoopStrokes.ts", sessions),
    { hidden: 40, rounds: 14, vary },
  );

/** Precision and recall as one figure, by drum. */
function scores(net: StrokeNet, sessions: readonly SessionSamples[]): string {
  const samples = sessions.flatMap((s) => s.samples);
  const said = samples.map(({ x }) => askNet(net, x));
  return loopDrums
    .map((drum, k) => {
      const right = samples.filter(({ y }, i) => y[k] === 1 && said[i]![k]! > 0.5).length;
      const all = samples.filter(({ y }) => y[k] === 1).length + said.filter((p) => p[k]! > 0.5).length;
      return `${drum} ${((2 * right) / Math.max(1, all)).toFixed(3)}`;
    })
    .join("  ");
}

const { out, folders, crossed, cache } = trainingArguments(process.argv.slice(2));
const sessions: SessionSamples[] = [];
for (const folder of folders) {
  const samples = await kept(cache, basename(folder), async () => samplesOf(folder));
  if (samples.length > 0) sessions.push({ world: worldOf(folder), samples });
}
const worlds = [...new Set(sessions.map((s) => s.world))];
say(worlds.map((w) => `${w}: ${sessions.filter((s) => s.world === w).length} sessions`).join(", "));
for (const world of crossed ? worlds : [])
  say(
    `never saw ${world}: ${scores(
      fit(sessions.filter((s) => s.world !== world)),
      sessions.filter((s) => s.world === world),
    )}`,
  );
const net = fit(sessions);
say(`saw all: ${scores(net, sessions)}`);
writeFileSync(out, JSON.stringify(net));
