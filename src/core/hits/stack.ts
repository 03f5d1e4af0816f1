/** A picture of many strokes: how loud each is in every millisecond around its start. */
export interface StrokeStack {
  readonly rows: number;
  readonly columns: number;
  /** Time of the first column against the start, s, and their distance. */
  readonly from: number;
  readonly step: number;
  /** Peak in dBFS, row by row. */
  readonly levels: Float32Array;
}

const from = -0.02;
const to = 0.13;
const step = 0.001;
/** What is quieter is drawn as silence, dBFS. */
const quietest = -90;

/** Peaks around instants of a signal. Shape  one row an instant (s); silence outside the signal. */
export function stackStrokes(x: Float32Array, times: readonly number[], sampleRate: number): StrokeStack {
  const columns = Math.round((to - from) / step);
  const levels = new Float32Array(times.length * columns);
  times.forEach((t, row) => {
    for (let c = 0; c < columns; c++) {
      const a = Math.max(0, Math.round((t + from + c * step) * sampleRate));
      const b = Math.min(x.length, Math.round((t + from + (c + 1) * step) * sampleRate));
      let peak = 0;
      for (let i = a; i < b; i++) peak = Math.max(peak, Math.abs(x[i]!));
      levels[row * columns + c] = peak > 0 ? Math.max(quietest, 20 * Math.log10(peak)) : quietest;
    }
  });
  return { rows: times.length, columns, from, step, levels };
}
