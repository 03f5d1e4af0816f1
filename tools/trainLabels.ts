// Fits the model that tells what a mic is by its sound (src/core/gather/soundWeights.json) on sessions with known truth.
// With --worlds every world is judged before by a model fitted on the other worlds alone.
// usage: node dist/trainLabels.mjs OUT.json [--worlds] [--cache DIR] SESSION...
import { writeFileSync } from "node:fs";
import { basename } from "node:path";
import { describeSounds } from "../src/core/gather/micSounds";
import { monoOf } from "../src/core/gather/channels";
import { settleKinds } from "../src/core/gather/settleKinds";
import {
  expanded,
  kindOdds,
  kinds,
  soundFeatures,
  type Kind,
  type SoundModel,
} from "../src/core/gather/soundModel";
import { bandEnergies } from "../src/core/hits/bandEnergies";
import { loadFolder } from "../src/server/audio/loadFolder";
import { kept, originOf, say, trainingArguments, worldOf } from "./training";
import { readTruth } from "./worlds/truth";

const { out, folders, crossed, cache } = trainingArguments(process.argv.slice(2));

interface Session {
  name: string;
  world: string;
  features: Float64Array[];
  kinds: Kind[];
  stereo: boolean[];
  heard: number[][];
}

async function sessionOf(folder: string): Promise<Session> {
  const truth = readTruth(folder);
  const { sampleRate, mics } = await loadFolder(folder);
  const known = mics.flatMap((m) => {
    const t = truth.mics.find((x) => x.file === m.file);
    return t && !t.silent ? [{ ...t, ...m }] : [];
  });
  const signals = known.map((m) => monoOf(m.channels));
  const sounds = describeSounds(
    signals,
    signals.map((x) => bandEnergies(x, sampleRate)),
    sampleRate,
  );
  const stereo = known.map((m) => m.channels.length === 2 && (m.piece === "overhead" || m.piece === "room"));
  return {
    name: basename(folder),
    world: worldOf(folder),
    features: known.map((_, i) => soundFeatures(sounds, i, stereo[i]!)),
    kinds: known.map((m): Kind =>
      m.unplayed ? "idle" : /^tom|floor/.test(m.piece) ? "tom" : (m.piece as Kind),
    ),
    stereo,
    heard: sounds.map((s) => [...s.heardIn]),
  };
}

const penalty = 0.02;
const rounds = 500;

/** Multinomial logistic regression with a ridge, by gradient steps with momentum. Source  Hastie, Tibshirani, Friedman, 4.4. */
function train(sessions: readonly Session[]): SoundModel {
  const rows = sessions.flatMap((s) => s.features.map((x, i) => ({ x, k: kinds.indexOf(s.kinds[i]!) })));
  const n = rows[0]!.x.length;
  const mean = Array.from({ length: n }, (_, f) => rows.reduce((s, r) => s + r.x[f]!, 0) / rows.length);
  const scale = mean.map(
    (m, f) => Math.sqrt(rows.reduce((s, r) => s + (r.x[f]! - m) ** 2, 0) / rows.length) + 1e-3,
  );
  const data = rows.map((r) => ({ x: expanded({ mean, scale }, r.x), k: r.k }));
  const d = data[0]!.x.length;
  const w = kinds.map(() => new Float64Array(d));
  const v = kinds.map(() => new Float64Array(d));
  for (let round = 0; round < rounds; round++) {
    const g = kinds.map(() => new Float64Array(d));
    for (const { x, k } of data) {
      const z = w.map((row) => row.reduce((s, a, f) => s + a * x[f]!, 0));
      const top = Math.max(...z);
      const e = z.map((a) => Math.exp(a - top));
      const sum = e.reduce((a, b) => a + b, 0);
      e.forEach((a, c) => {
        const miss = (c === k ? 1 : 0) - a / sum;
        const row = g[c]!;
        for (let f = 0; f < d; f++) row[f]! += (miss * x[f]!) / data.length;
      });
    }
    w.forEach((row, c) => {
      for (let f = 0; f < d; f++) {
        const ridge = f < d - 1 ? penalty * row[f]! : 0;
        v[c]![f] = 0.9 * v[c]![f]! + 0.1 * (g[c]![f]! - ridge);
        row[f]! += v[c]![f]!;
      }
    });
  }
  const short = (x: number) => Number(x.toPrecision(4));
  return {
    mean: mean.map(short),
    scale: scale.map(short),
    rows: Object.fromEntries(
      kinds.map((k, c) => [k, [...w[c]!].map(short)]),
    ) as unknown as SoundModel["rows"],
  };
}

function judge(model: SoundModel, sessions: readonly Session[]): string {
  let [alone, together, all] = [0, 0, 0];
  const confused = new Map<string, number>();
  for (const s of sessions) {
    const odds = s.features.map((x) => kindOdds(x, model));
    const settled = settleKinds(
      odds.map((o, i) => ({ odds: o, named: null, stereo: s.stereo[i]! })),
      (i, j) => Math.min(s.heard[i]![j]!, s.heard[j]![i]!) > -8,
    );
    const same = (k: Kind) => (k === "idle" ? "tom" : k);
    s.kinds.forEach((k, i) => {
      all++;
      const first = kinds.reduce((a, b) => (odds[i]![b] > odds[i]![a] ? b : a));
      if (same(first) === same(k)) alone++;
      if (same(settled[i]!) === same(k)) together++;
      else confused.set(`${k} as ${settled[i]!}`, (confused.get(`${k} as ${settled[i]!}`) ?? 0) + 1);
    });
  }
  const worst = [...confused].sort((a, b) => b[1] - a[1]).slice(0, 8);
  return `${((100 * together) / all).toFixed(1)} % of ${all} mics (each alone ${((100 * alone) / all).toFixed(1)} %); ${worst.map(([k, n]) => `${n} ${k}`).join(", ")}`;
}

const sessions: Session[] = [];
for (const folder of folders)
  sessions.push(await kept(cache, `${basename(folder)}.labels`, () => sessionOf(folder)));
const worlds = [...new Set(sessions.map((s) => s.world))];
if (crossed)
  for (const world of worlds)
    say(
      `${world}, fitted on the others: ${judge(
        train(sessions.filter((s) => s.world !== world)),
        sessions.filter((s) => s.world === world),
      )}`,
    );
const model = train(sessions);
say(`all, fitted on all: ${judge(model, sessions)}`);
writeFileSync(out, `${JSON.stringify({ origin: originOf("tools/trainLabels.ts", sessions), ...model })}\n`);
