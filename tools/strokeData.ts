// What the stroke model is trained on: sessions with what is true of them, and their features and labels by instant.
import { basename } from "node:path";
import { bandEnergies } from "../src/core/hits/bandEnergies";
import { askedFor, findInstants, risingColumns, type Row } from "../src/core/hits/judge/instants";
import type { Source } from "../src/core/hits/judge/explained";
import { StrokePrints } from "../src/core/hits/judge/prints";
import { familyOf, type Family } from "../src/core/hits/judge/strokeOdds";
import { hopelessLevel, strokeFeatures } from "../src/core/hits/judge/strokeFeatures";
import { isDrum } from "../src/core/song/song";
import { loadFolder } from "../src/server/audio/loadFolder";
import { kept, worldOf } from "./training";
import { readTruth, type SessionTruth } from "./worlds/truth";

/** One source of a session: features and label of every instant (1: stroke, 0: none, -1: near one). */
export interface SourceData {
  source: Source;
  family: Family;
  times: number[];
  /** None where no stroke is looked for. */
  features: Float64Array[];
  label: Int8Array;
}
export interface SessionData {
  name: string;
  world: string;
  sources: SourceData[];
}

/** Prints of a session by its true labels. */
export async function printsOf(folder: string): Promise<StrokePrints> {
  const truth = readTruth(folder);
  const { sampleRate, mics } = await loadFolder(folder);
  const known = mics.flatMap((m) => {
    const t = truth.mics.find((x) => x.file === m.file);
    return t && !t.silent && (isDrum(t.piece) || t.piece === "overhead") ? [{ ...t, ...m }] : [];
  });
  const isMain = (m: (typeof known)[number]) =>
    isDrum(m.piece) && (truth.main[m.piece]?.close ? truth.main[m.piece]!.mic === m.file : m.main);
  const pieces = [...new Set(known.filter(isMain).map((m) => m.piece))];
  const rows = known.flatMap((m): Row[] =>
    m.channels.slice(0, m.piece === "overhead" ? 2 : 1).map((x) => ({
      piece: pieces.indexOf(m.piece),
      main: isMain(m),
      energies: bandEnergies(x, sampleRate),
    })),
  );
  const missing = (["hat", "ride", "crash"] as const).filter((p) => !pieces.includes(p));
  const rises = askedFor(rows, missing.length > 0).map(risingColumns);
  return new StrokePrints(pieces, rows, findInstants(rows, rises), missing);
}

/** Within this time of a stroke an instant is its, s. */
const near = 0.018;

function labelled(
  prints: StrokePrints,
  source: Source,
  features: Float64Array[],
  truth: SessionTruth,
): SourceData {
  const { hop } = prints.rows[0]!.energies;
  const times = Array.from(prints.instants.columns, (column) => column * hop);
  const strokes = truth.strokes.filter((s) => s.piece === source);
  const label = new Int8Array(times.length);
  const own = new Set<number>();
  for (const s of strokes) {
    let best = -1;
    times.forEach((t, i) => {
      const d = Math.abs(t - s.timeSeconds);
      if (d >= near) return;
      if (label[i] === 0) label[i] = -1;
      if (best < 0 || d < Math.abs(times[best]! - s.timeSeconds)) best = i;
    });
    if (best >= 0) own.add(best);
  }
  for (const i of own) label[i] = 1;
  return {
    source,
    family: familyOf(source, prints.pieces.includes(source)),
    times,
    features,
    label,
  };
}

/** Features and labels of a session, kept in `cache` when told. */
export const sessionData = (folder: string, cache?: string): Promise<SessionData> =>
  kept(cache, basename(folder), async () => {
    const truth = readTruth(folder);
    const prints = await printsOf(folder);
    const own = prints.pieces.map((p) =>
      labelled(prints, p, strokeFeatures(prints, p, hopelessLevel), truth),
    );
    const { far } = prints;
    // The rhythm is filled in for each of them: a copy each.
    const heard = far
      ? prints.missing.map((p) => labelled(prints, p, strokeFeatures(prints, far, hopelessLevel), truth))
      : [];
    return {
      name: basename(folder),
      world: worldOf(folder),
      sources: [...own, ...heard],
    };
  });
