import { gridParts } from "./steadyTempo";
import { isShell, type Edit, type Hit, type Tempo, type TightenSettings } from "../song/song";

/** Strokes that fall together and move as one. */
export interface StrokeGroup {
  /** Mean instant of its leading strokes, s. */
  time: number;
  /** Its earliest stroke, s. */
  from: number;
  hits: Hit[];
}

/** Strokes nearer than this belong together, s. */
const together = 0.028;
/** Distance of a cut before the first arrival of a stroke, s. */
const lead = 0.0025;

/** Nearest grid line to an instant; the beats go on at both ends with their last distance. */
export function nearestGrid(time: number, beats: readonly number[], grid: TightenSettings["grid"]): number {
  const parts = gridParts(grid);
  let i = beats.findIndex((b) => b > time) - 1;
  if (i === -2) i = beats.length - 2;
  i = Math.max(0, Math.min(beats.length - 2, i));
  const from = beats[i]!;
  const part = (beats[i + 1]! - from) / parts;
  return from + Math.round((time - from) / part) * part;
}

/** Main strokes of kick, snare and toms lead; what falls together with them goes along. */
export function groupStrokes(hits: readonly Hit[]): StrokeGroup[] {
  const groups: StrokeGroup[] = [];
  const sorted = [...hits].sort((a, b) => a.time - b.time);
  const leads = sorted.filter((h) => isShell(h.piece) && !h.ghost);
  for (const h of leads) {
    const last = groups[groups.length - 1];
    if (last && h.time - last.hits[0]!.time < together) last.hits.push(h);
    else groups.push({ time: 0, from: 0, hits: [h] });
  }
  for (const g of groups) {
    g.time = g.hits.reduce((sum, h) => sum + h.time, 0) / g.hits.length;
    const first = g.hits[0]!.time;
    const along = sorted.filter((h) => Math.abs(h.time - g.time) < together);
    g.from = along.reduce((least, h) => Math.min(least, h.time), first);
  }
  return groups;
}

/**
 * Cuts that move the playing towards the grid. All mics are cut at the same instants and moved by the same frames.
 * A cut lies before the first arrival of its strokes; when a gap opens, the tail before it is repeated under a
 * crossfade; groups too near to each other for that move together.
 * Shape   edits ascending; empty at strength 0.
 */
export function planEdits(
  hits: readonly Hit[],
  tempo: Tempo | null,
  settings: TightenSettings,
  sampleRate: number,
): Edit[] {
  if (settings.strength <= 0 || !tempo || tempo.beats.length < 2) return [];
  const edits: Edit[] = [];
  const groups = groupStrokes(hits);
  let shift = 0;
  let end = 0; // first frame of the song that the next cut may touch
  groups.forEach((group, i) => {
    const offset = nearestGrid(group.time, tempo.beats, settings.grid) - group.time;
    const stays = Math.abs(offset) <= settings.window;
    const move = stays
      ? 0
      : Math.sign(offset) * Math.min(Math.abs(offset), settings.largest) * settings.strength;
    const wanted = Math.round(move * sampleRate);
    if (wanted !== shift) {
      const gap = Math.max(0, wanted - shift);
      const at = Math.round((group.from - lead) * sampleRate) + wanted - gap;
      const room = at - Math.max(end, 0);
      const fade = Math.min(Math.round(0.008 * sampleRate), room);
      if (fade >= Math.round(0.0008 * sampleRate)) {
        edits.push({ at, shift: wanted, fade });
        shift = wanted;
      }
    }
    // The stroke itself and the first of its ring stay whole.
    const next = groups[i + 1];
    const protectedFor = next ? Math.min(0.03, 0.4 * (next.from - group.from)) : 0.03;
    end = Math.round((group.time + protectedFor) * sampleRate) + shift;
  });
  return edits;
}

export interface Tightness {
  /** Spread (standard deviation) of the main strokes around the grid, s. */
  spreadBefore: number;
  spreadAfter: number;
  cuts: number;
  largestMove: number; // s
}

/** How far the main strokes lie off the grid before and after some edits. */
export function measureTightness(
  hits: readonly Hit[],
  tempo: Tempo,
  grid: TightenSettings["grid"],
  edits: readonly Edit[],
  heardAt: (time: number) => number,
  sampleRate: number,
): Tightness {
  const mains = hits.filter((h) => isShell(h.piece) && !h.ghost);
  const spread = (times: readonly number[]) => {
    const offsets = times.map((t) => t - nearestGrid(t, tempo.beats, grid));
    return Math.sqrt(offsets.reduce((s, o) => s + o * o, 0) / Math.max(1, offsets.length));
  };
  return {
    spreadBefore: spread(mains.map((h) => h.time)),
    spreadAfter: spread(mains.map((h) => heardAt(h.time))),
    cuts: edits.length,
    largestMove: edits.reduce((most, e) => Math.max(most, Math.abs(e.shift)), 0) / sampleRate,
  };
}
