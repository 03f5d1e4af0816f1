// Fits the additive logistic models that tell strokes from bleed (src/core/hits/judge/strokeWeights.json) on sessions with known truth.
// With --worlds every world is judged before by models fitted on the other worlds alone; the table says how well.
// usage: node dist/trainStrokes.mjs OUT.json [--worlds] [--cache DIR] SESSION...   (folders with FOLDER.truth/truth.json beside them)
import { writeFileSync } from "node:fs";
import { ringNames } from "../src/core/hits/judge/ringing";
import { addRhythm, featureCount, featureNames } from "../src/core/hits/judge/strokeFeatures";
import {
  families,
  logOdds,
  probability,
  type Additive,
  type Family,
  type StrokeModel,
} from "../src/core/hits/judge/strokeOdds";
import { quantile } from "../src/core/signal/level";
import { originOf, say, trainingArguments } from "./training";
import { sessionData, type SessionData, type SourceData } from "./strokeData";

const { out, folders, crossed, cache } = trainingArguments(process.argv.slice(2));

interface Sample {
  x: Float64Array;
  y: number;
  weight: number;
}

/** Bends of every value: quantiles over the strokes and over the rest. */
function knotsOf(samples: readonly Sample[], f: number): number[] {
  const values = samples.filter((s) => s.y === 1).map((s) => s.x[f]!);
  const rest = samples.filter((s) => s.y === 0).map((s) => s.x[f]!);
  const all = [quantile(rest, 0.9), quantile(values, 0.1), quantile(values, 0.5)].sort((a, b) => a - b);
  const range = Math.max(...values, ...rest.slice(0, 2000)) - Math.min(...values, ...rest.slice(0, 2000));
  return all.filter((k, i) => i === 0 || k - all[i - 1]! > 0.05 * range).map((k) => Number(k.toFixed(2)));
}

/** Ridge-penalised logistic regression by Newton's method. Source  Hastie, Tibshirani, Friedman, The Elements of Statistical Learning, 4.4. */
function fit(samples: readonly Sample[], used: readonly number[], penalty: number): Additive {
  const knots = Array.from({ length: featureCount }, (_, f) => (used.includes(f) ? knotsOf(samples, f) : []));
  const columns = used.flatMap((f) => [
    { f, knot: null as number | null },
    ...knots[f]!.map((knot) => ({ f, knot: knot as number | null })),
  ]);
  const d = columns.length + 1;
  const raw = samples.map((s) =>
    Float64Array.from(columns, ({ f, knot }) => (knot === null ? s.x[f]! : Math.max(0, s.x[f]! - knot))),
  );
  const mean = new Float64Array(d - 1);
  const scale = new Float64Array(d - 1);
  for (const r of raw) r.forEach((v, j) => (mean[j]! += v / raw.length));
  for (const r of raw) r.forEach((v, j) => (scale[j]! += (v - mean[j]!) ** 2 / raw.length));
  for (let j = 0; j < d - 1; j++) scale[j] = Math.sqrt(scale[j]!) + 1e-6;
  for (const r of raw) r.forEach((v, j) => (r[j] = (v - mean[j]!) / scale[j]!));
  const w = new Float64Array(d);
  for (let round = 0; round < 8; round++) {
    const H = Array.from({ length: d }, () => new Float64Array(d));
    const g = new Float64Array(d);
    raw.forEach((r, n) => {
      let z = w[d - 1]!;
      for (let j = 0; j < d - 1; j++) z += w[j]! * r[j]!;
      const p = probability(z);
      const { y, weight } = samples[n]!;
      const e = weight * (y - p);
      const h = weight * Math.max(1e-4, p * (1 - p));
      for (let j = 0; j < d; j++) {
        const xj = j < d - 1 ? r[j]! : 1;
        g[j]! += e * xj;
        const row = H[j]!;
        for (let k = 0; k <= j; k++) row[k]! += h * xj * (k < d - 1 ? r[k]! : 1);
      }
    });
    for (let j = 0; j < d - 1; j++) {
      g[j]! -= penalty * w[j]!;
      H[j]![j]! += penalty;
    }
    solveInPlace(H, g);
    for (let j = 0; j < d; j++) w[j]! += Math.max(-3, Math.min(3, g[j]!));
  }
  let bias = w[d - 1]!;
  const plain = Array.from({ length: d - 1 }, (_, j) => {
    bias -= (w[j]! * mean[j]!) / scale[j]!;
    return Number((w[j]! / scale[j]!).toPrecision(5));
  });
  let at = 0;
  const terms = Array.from({ length: featureCount }, (_, f) => {
    const count = used.includes(f) ? 1 + knots[f]!.length : 0;
    const own = count === 0 ? [0] : plain.slice(at, at + count);
    at += count;
    return { knots: knots[f]!, weights: own };
  });
  return { bias: Number(bias.toPrecision(6)), terms };
}

/** Solves H x = g for a symmetric positive H given by its lower half (Cholesky); x in g. */
function solveInPlace(H: Float64Array[], g: Float64Array): void {
  const n = g.length;
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let s = H[i]![j]!;
      for (let k = 0; k < j; k++) s -= H[i]![k]! * H[j]![k]!;
      H[i]![j] = i === j ? Math.sqrt(Math.max(s, 1e-9)) : s / H[j]![j]!;
    }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) g[i]! -= H[i]![k]! * g[k]!;
    g[i]! /= H[i]![i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) g[i]! -= H[k]![i]! * g[k]!;
    g[i]! /= H[i]![i]!;
  }
}

/** Most instants without a stroke that one source of a session brings in; the rest count through the weights. */
const mostQuiet = 300;
const samplesOf = (sources: readonly SourceData[]): Sample[] =>
  sources.flatMap(({ features, label }) => {
    const quiet = features.flatMap((x, i) => (label[i] === 0 && x.length > 0 ? [i] : []));
    const every = Math.max(1, quiet.length / mostQuiet);
    const kept = quiet.filter((_, n) => Math.floor(n / every) !== Math.floor((n - 1) / every) || n === 0);
    return [
      ...features.flatMap((x, i) => (label[i] === 1 && x.length > 0 ? [{ x, y: 1, weight: 1 }] : [])),
      ...kept.map((i) => ({ x: features[i]!, y: 0, weight: quiet.length / kept.length })),
    ];
  });

const all = Array.from({ length: featureCount }, (_, f) => f);
const ringAt = featureNames.indexOf("soon4");
/** Rhythm and ring speak for cymbals only. */
const ringing = (family: Family): boolean => !["kick", "snare", "tom"].includes(family);
const unrhythmic = all.filter((f) => featureNames[f] !== "rhythm" && featureNames[f] !== "alone");
const penalty = 30;

const likely = (model: Additive, x: Float64Array): number =>
  x.length === 0 ? 0 : probability(logOdds(model, x));

function train(data: readonly SessionData[]): Record<Family, StrokeModel> {
  const models = {} as Record<Family, StrokeModel>;
  for (const family of families) {
    const sources = data.flatMap((d) => d.sources.filter((s) => s.family === family));
    const values = ringing(family)
      ? unrhythmic
      : unrhythmic.filter((f) => f < ringAt || f >= ringAt + ringNames.length);
    const first = fit(samplesOf(sources), values, penalty);
    for (const s of sources)
      addRhythm(
        s.features,
        s.times,
        s.features.map((x) => likely(first, x)),
      );
    models[family] = { first, second: ringing(family) ? fit(samplesOf(sources), all, penalty) : first };
  }
  return models;
}

/** F-measure and reliability of a family on sessions; instants nearer than 20 ms are one stroke. */
function judge(models: Record<Family, StrokeModel>, data: readonly SessionData[]): string {
  return families
    .map((family) => {
      let [right, found, wanted] = [0, 0, 0];
      const heaps = Array.from({ length: 4 }, () => [0, 0, 0]);
      for (const { features, times, label } of data.flatMap((d) =>
        d.sources.filter((s) => s.family === family),
      )) {
        const { first, second } = models[family];
        addRhythm(
          features,
          times,
          features.map((x) => likely(first, x)),
        );
        const p = features.map((x) => likely(second, x));
        wanted += label.filter((l) => l === 1).length;
        const order = p.map((_, i) => i).sort((a, b) => p[b]! - p[a]!);
        const taken: number[] = [];
        for (const i of order) {
          if (p[i]! < 0.2 || taken.some((t) => Math.abs(t - times[i]!) < 0.02)) continue;
          taken.push(times[i]!);
          const heap = heaps[Math.min(3, Math.floor((p[i]! - 0.2) / 0.2))]!;
          heap[0]!++;
          heap[1]! += p[i]!;
          if (label[i] !== 0) heap[2]!++;
          if (p[i]! < 0.5) continue;
          found++;
          if (label[i] !== 0) right++;
        }
      }
      const f = (2 * right) / Math.max(1, found + wanted);
      return `${family} F ${f.toFixed(3)} (${wanted}; found ${found}, right ${right}) sure/right ${heaps.map(([n, s, r]) => `${((100 * s!) / n!).toFixed(0)}/${((100 * r!) / n!).toFixed(0)}`).join(" ")}`;
    })
    .join("\n  ");
}

const data: SessionData[] = [];
for (const folder of folders) data.push(await sessionData(folder, cache));
const worlds = [...new Set(data.map((d) => d.world))];
for (const world of worlds) {
  if (!crossed || worlds.length < 2) break;
  say(
    `${world}, by models fitted on ${worlds.filter((w) => w !== world).join(" and ")} (${data.filter((d) => d.world === world).length} sessions)`,
  );
  say(
    `  ${judge(
      train(data.filter((d) => d.world !== world)),
      data.filter((d) => d.world === world),
    )}`,
  );
}
const models = train(data);
say(`all worlds, fitted on all`);
say(`  ${judge(models, data)}`);
const origin = `${originOf("tools/trainStrokes.ts", data)}; values: ${featureNames.join(" ")}`;
writeFileSync(out, `${JSON.stringify({ origin, ...models })}\n`);
