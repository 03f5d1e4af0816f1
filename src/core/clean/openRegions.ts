/** A stretch of the song, s. */
export interface Region {
  readonly from: number;
  readonly to: number;
}

/**
 * Where a gate that is opened by strokes stays open: from each stroke for hold and release; strokes that follow before it
 * has closed prolong it.
 * Shape   strokes ascending, s; regions ascending, within 0 and `end`.
 */
export function openRegions(
  strokes: readonly number[],
  hold: number,
  release: number,
  end: number,
): Region[] {
  const regions: { from: number; to: number }[] = [];
  for (const t of [...strokes].sort((a, b) => a - b)) {
    if (t >= end) continue;
    const to = Math.min(end, t + hold + release);
    const last = regions[regions.length - 1];
    if (last && t <= last.to) last.to = Math.max(last.to, to);
    else regions.push({ from: Math.max(0, t), to });
  }
  return regions;
}
