import { kinds, type Kind } from "./soundModel";

/** A file whose kind is sought: its odds (natural logarithms), or the kind that its name tells. */
export interface OpenKind {
  readonly odds: Readonly<Record<Kind, number>>;
  readonly named: Kind | null;
  readonly stereo: boolean;
}

/** What more or fewer mics of a kind than usual cost, natural logarithms. Common practice, no source. */
function countCost(kind: Kind, mono: number, stereo: number): number {
  const n = mono + stereo;
  if (kind === "hat" || kind === "ride") return 5 * Math.max(0, n - 1);
  if (kind === "kick" || kind === "snare") return n === 0 ? 4 : 3 * Math.max(0, n - 3);
  if (kind === "overhead")
    return (
      (n === 0 ? 3 : 0) +
      (stereo > 0 ? 2.5 * (stereo - 1 + mono) : mono === 1 ? 1.5 : 2.5 * Math.max(0, mono - 2))
    );
  if (kind === "room")
    return stereo > 0 ? 1.5 * (stereo - 1) : mono === 1 ? 0.7 : 1.5 * Math.max(0, mono - 2);
  if (kind === "tom") return n === 0 ? 1 : 2 * Math.max(0, n - 4);
  return 1.5 * Math.max(0, n - 1);
}

/** Mics of one drum hear the same strokes; this much for each pair of one kind that does not. */
const strangers = 3;

/**
 * The likeliest kinds of all files together: what each sounds like, and how many of a kind a kit has.
 * Shape   `alike` tells whether two files hear each other's strokes as loudly as their own.
 */
export function settleKinds(files: readonly OpenKind[], alike: (i: number, j: number) => boolean): Kind[] {
  const best = files.map((f): Kind => f.named ?? kinds.reduce((a, b) => (f.odds[b] > f.odds[a] ? b : a)));
  const score = (list: readonly Kind[]): number => {
    let sum = 0;
    list.forEach((k, i) => (sum += files[i]!.named ? 0 : files[i]!.odds[k]));
    for (const kind of kinds) {
      const of = list.flatMap((k, i) => (k === kind ? [i] : []));
      const stereo = of.filter((i) => files[i]!.stereo).length;
      sum -= countCost(kind, of.length - stereo, stereo);
      if (kind === "kick" || kind === "snare")
        for (const i of of) for (const j of of) if (i < j && !alike(i, j)) sum -= strangers;
    }
    return sum;
  };
  const open = files.flatMap((f, i) => (f.named ? [] : [i]));
  let now = score(best);
  for (let round = 0; round < 6; round++) {
    const before = now;
    /** Keeps a change when it is better. */
    const attempt = (changes: readonly (readonly [number, Kind])[]) => {
      const next = [...best];
      for (const [i, k] of changes) next[i] = k;
      const value = score(next);
      if (value > now + 1e-9) {
        now = value;
        for (const [i, k] of changes) best[i] = k;
      }
    };
    for (const i of open) for (const k of kinds) attempt([[i, k]]);
    for (const i of open)
      for (const j of open)
        if (i < j) {
          attempt([
            [i, best[j]!],
            [j, best[i]!],
          ]);
          for (const k of ["overhead", "room", "kick", "snare"] as const)
            attempt([
              [i, k],
              [j, k],
            ]);
        }
    if (now === before) break;
  }
  return best;
}
