import type { Hit, Piece, TightenSettings } from "../song/song";

/** Strokes that fall together and move as one, and what belongs to them. */
export interface StrokeGroup {
  /** Mean instant of its leading strokes, s. */
  readonly time: number;
  /** Its first stroke of any drum, s: nothing of the group lies before. */
  readonly from: number;
  /** Its last one. */
  readonly to: number;
  /** The strokes that lead it; none: it lies between two that are led, and shares their moves. */
  readonly leads: readonly Hit[];
  readonly all: readonly Hit[];
}

/** Strokes nearer than this fall together, s. */
const together = 0.028;

/** Strokes of a roll after its first, which do not decide themselves. */
function insideRolls(hits: readonly Hit[]): Set<Hit> {
  const inside = new Set<Hit>();
  const last = new Map<Piece, Hit>();
  for (const h of hits) {
    const before = last.get(h.piece);
    if (h.kind === "roll" && before?.kind === "roll" && h.time - before.time < 0.2) inside.add(h);
    last.set(h.piece, h);
  }
  return inside;
}

const groupOf = (leads: readonly Hit[], all: readonly Hit[], time: number): StrokeGroup => {
  const times = (all.length > 0 ? all : leads).map((h) => h.time);
  return { leads, all, time, from: Math.min(...times), to: Math.max(...times) };
};

/** Takes what does not fall together with the leading strokes out of a group, into groups of its own. */
function parted(group: StrokeGroup): StrokeGroup[] {
  const stays = (h: Hit) => Math.abs(h.time - group.time) < together || h.kind === "grace";
  const own: Hit[][] = [];
  for (const h of group.all.filter((x) => !stays(x))) {
    const last = own[own.length - 1];
    if (last && h.time - last[0]!.time < together) last.push(h);
    else own.push([h]);
  }
  const between = own.map((list) => groupOf([], list, list[0]!.time));
  return [...between, groupOf(group.leads, group.all.filter(stays), group.time)].sort(
    (a, b) => a.time - b.time,
  );
}

/**
 * Groups of strokes that are moved as one. Main strokes of the leading drums decide; ghost notes, grace notes, rolls and
 * all other drums belong to the nearest group, a grace note to the stroke behind it. With `between` "spread", what does
 * not fall together with a leading stroke is a group of its own.
 * Shape   groups ascending; between two groups lies no stroke of a third.
 */
export function groupStrokes(
  hits: readonly Hit[],
  leaders: readonly Piece[],
  between: TightenSettings["between"] = "nearest",
): StrokeGroup[] {
  const sorted = [...hits].sort((a, b) => a.time - b.time);
  const inside = insideRolls(sorted);
  const groups: { leads: Hit[]; all: Hit[]; time: number }[] = [];
  for (const h of sorted) {
    if (!leaders.includes(h.piece) || h.ghost || h.kind === "grace" || inside.has(h)) continue;
    const last = groups[groups.length - 1];
    if (last && h.time - last.leads[0]!.time < together) last.leads.push(h);
    else groups.push({ leads: [h], all: [], time: 0 });
  }
  if (groups.length === 0) return [];
  for (const g of groups) g.time = g.leads.reduce((sum, h) => sum + h.time, 0) / g.leads.length;
  let at = 0;
  for (const h of sorted) {
    while (at + 1 < groups.length && nearerTo(groups[at + 1]!, groups[at]!, h)) at++;
    groups[at]!.all.push(h);
  }
  const whole = groups.map(({ leads, all, time }) => groupOf(leads, all, time));
  return between === "nearest" ? whole : whole.flatMap(parted);
}

/** Whether a stroke belongs to the later of two groups. */
const nearerTo = (later: { time: number }, earlier: { time: number }, h: Hit): boolean =>
  h.kind === "grace" && h.time > earlier.time
    ? later.time - h.time < 0.1 || later.time - h.time < h.time - earlier.time
    : later.time - h.time < h.time - earlier.time;
