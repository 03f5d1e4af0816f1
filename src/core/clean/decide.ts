/** What a level threshold does to the strokes and the bleed of a mic. */
export interface GateCount {
  hits: number;
  hitsPassed: number;
  ghosts: number;
  ghostsPassed: number;
  bleed: number;
  falseOpens: number;
}

export interface Levels {
  /** Peak levels in dBFS. */
  hits: readonly number[];
  ghosts: readonly number[];
  bleed: readonly number[];
}

const above = (levels: readonly number[], threshold: number): number =>
  levels.filter((l) => l >= threshold).length;

/** Counts what passes a threshold in dBFS. */
export const countGate = (levels: Levels, threshold: number): GateCount => ({
  hits: levels.hits.length,
  hitsPassed: above(levels.hits, threshold),
  ghosts: levels.ghosts.length,
  ghostsPassed: above(levels.ghosts, threshold),
  bleed: levels.bleed.length,
  falseOpens: above(levels.bleed, threshold),
});

/**
 * The threshold that loses least: a lost main stroke weighs as much as eight, a lost ghost note as much as two false
 * opens. Of equal ones the middle is taken. dBFS.
 */
export function bestThreshold(levels: Levels): number {
  let best = { cost: Infinity, from: -40, to: -40 };
  for (let t = -70; t <= -3; t += 0.5) {
    const c = countGate(levels, t);
    const cost = 8 * (c.hits - c.hitsPassed) + 2 * (c.ghosts - c.ghostsPassed) + c.falseOpens;
    if (cost < best.cost) best = { cost, from: t, to: t };
    else if (cost === best.cost && best.to === t - 0.5) best.to = t;
  }
  return (best.from + best.to) / 2;
}
