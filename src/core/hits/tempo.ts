import type { Hit, Tempo } from "../song/song";

/** Strength of a pulse at `frequency` Hz in weighted instants: magnitude and phase (as a time, s) of their Fourier sum. */
function pulse(
  times: readonly number[],
  weights: readonly number[],
  frequency: number,
): { strength: number; offset: number } {
  let re = 0;
  let im = 0;
  let total = 0;
  for (let i = 0; i < times.length; i++) {
    const angle = 2 * Math.PI * frequency * times[i]!;
    re += weights[i]! * Math.cos(angle);
    im += weights[i]! * Math.sin(angle);
    total += weights[i]!;
  }
  const phase = Math.atan2(im, re) / (2 * Math.PI * frequency);
  return { strength: total > 0 ? Math.hypot(re, im) / total : 0, offset: phase };
}

/** How usual a tempo is: a bell over the logarithm around 112 bpm, 0.75 octaves wide (common practice, no source). */
const usual = (bpm: number): number => Math.exp(-0.5 * (Math.log2(bpm / 112) / 0.75) ** 2);

const weightOf = (h: Hit): number =>
  h.ghost
    ? 0.15
    : h.piece === "kick" || h.piece === "snare"
      ? 1
      : h.piece === "hat" || h.piece === "ride"
        ? 0.35
        : 0.6;

/** Strength of a beat: strokes on its sixteenths, more on eighths and beats, the backbeat on every second beat. */
function beatScore(
  hits: readonly Hit[],
  times: readonly number[],
  weights: readonly number[],
  bpm: number,
): number {
  const f = bpm / 60;
  const sixteenth = pulse(times, weights, 4 * f).strength;
  const eighth = pulse(times, weights, 2 * f).strength;
  const beat = pulse(times, weights, f).strength;
  const snares = hits.filter((h) => h.piece === "snare" && !h.ghost);
  const kicks = hits.filter((h) => h.piece === "kick");
  const ones = (list: readonly Hit[]) => list.map(() => 1);
  const back = pulse(
    snares.map((h) => h.time),
    ones(snares),
    f / 2,
  );
  const front = pulse(
    kicks.map((h) => h.time),
    ones(kicks),
    f / 2,
  );
  // Snares on 2 and 4 lie half a period of two beats from the kicks on 1 and 3.
  const apart =
    snares.length > 3 && kicks.length > 3 ? -Math.cos(Math.PI * f * (back.offset - front.offset)) : 0;
  return (
    (1.2 * sixteenth +
      0.7 * eighth +
      0.5 * beat +
      0.9 * back.strength * Math.max(0, apart) * Math.min(1, 2 * front.strength + 0.3)) *
    (0.35 + 0.65 * usual(bpm))
  );
}

/** Tempo that fits instants best near a first guess: least squares on the nearest sixteenths, outliers left out. */
function refine(
  times: readonly number[],
  weights: readonly number[],
  bpm: number,
  offset: number,
): { bpm: number; offset: number } {
  let period = 15 / bpm;
  let start = offset;
  for (let round = 0; round < 6; round++) {
    let sw = 0, si = 0, st = 0, sii = 0, sit = 0; // prettier-ignore
    for (let k = 0; k < times.length; k++) {
      const i = Math.round((times[k]! - start) / period);
      const off = Math.abs(times[k]! - start - i * period);
      if (off > 0.3 * period) continue;
      const w = weights[k]! / (1 + (off / 0.008) ** 2);
      sw += w;
      si += w * i;
      st += w * times[k]!;
      sii += w * i * i;
      sit += w * i * times[k]!;
    }
    const det = sw * sii - si * si;
    if (det <= 0) break;
    period = (sw * sit - si * st) / det;
    start = (st - period * si) / sw;
  }
  return { bpm: 15 / period, offset: start };
}

/**
 * Measures a constant tempo and its first beat from strokes.
 * Returns null when fewer than six strokes are there. Range 60 to 200 bpm; beat one by kicks on 1 and 3, snares on 2
 * and 4. Half or double tempo is settled by the backbeat and by how usual a tempo is.
 */
export function measureTempo(
  hits: readonly Hit[],
  durationSeconds: number,
  beatsPerBar = 4,
  typedBpm?: number,
): Tempo | null {
  const used = hits.filter((h) => !h.ghost || hits.length < 40);
  if (used.length < 6) return null;
  const times = used.map((h) => h.time);
  const weights = used.map(weightOf);
  let best = { bpm: typedBpm ?? 120, score: -1 };
  if (typedBpm === undefined) {
    const span = Math.max(5, times[times.length - 1]! - times[0]!);
    const step = Math.min(0.5, 6 / span);
    for (let bpm = 60; bpm <= 200; bpm += step) {
      const score = beatScore(used, times, weights, bpm);
      if (score > best.score) best = { bpm, score };
    }
  }
  const grid = pulse(times, weights, (4 * best.bpm) / 60);
  const fitted = refine(times, weights, best.bpm, grid.offset);
  const bpm = typedBpm ?? fitted.bpm;
  const beat = 60 / bpm;
  const start = firstBeat(used, fitted.offset, beat, beatsPerBar);
  const beats: number[] = [];
  for (let t = start; t < durationSeconds; t += beat) beats.push(t);
  return { bpm, firstBeat: start, beatsPerBar, beats };
}

/** Which sixteenth is beat one of a bar: kicks want to lie on 1 (and 3), snares on 2 and 4; the first near the start. */
function firstBeat(hits: readonly Hit[], offset: number, beat: number, beatsPerBar: number): number {
  const bar = beat * beatsPerBar;
  let best = { start: offset, score: -Infinity };
  for (let s = 0; s < 4 * beatsPerBar; s++) {
    const start = offset + (s * beat) / 4;
    let score = 0;
    for (const h of hits) {
      const inBar = ((((h.time - start) % bar) + bar) % bar) / beat;
      const near = (at: number) =>
        Math.abs(((inBar - at + beatsPerBar * 1.5) % beatsPerBar) - beatsPerBar / 2) < 0.12;
      const weight = h.ghost ? 0.1 : 1;
      if (h.piece === "kick") score += weight * (near(0) ? 2 : near(2) ? 0.9 : near(1) || near(3) ? -0.5 : 0);
      else if (h.piece === "snare")
        score += weight * (near(1) || near(3) ? 1.2 : near(0) ? -1 : near(2) ? -0.7 : 0);
      else if (h.piece === "crash") score += near(0) ? 3 : 0;
      else if (h.piece === "hat" || h.piece === "ride")
        score += near(0) || near(1) || near(2) || near(3) ? 0.25 : 0;
    }
    if (score > best.score) best = { start, score };
  }
  const first = hits.reduce((least, h) => Math.min(least, h.time), Infinity);
  // The first bar line that a stroke lies on or after, within a sixteenth.
  let start = best.start;
  while (start > first + 0.3 * beat) start -= bar;
  while (start < first - 0.3 * beat) start += bar;
  // A pick-up before the first full bar belongs to the bar before; the first beat is the first one that is played.
  while (start - beat > first - 0.3 * beat) start -= beat;
  return start;
}
