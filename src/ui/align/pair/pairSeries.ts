import type { PairEvidence } from "../../../core/align/pairEvidence";
import type { Mic } from "../../../core/song/song";
import { shortName } from "../../shared/format";
import type { Series } from "../../shared/Plot";

/** How the second mic of a pair is set. */
export interface PairSet {
  /** smp */
  readonly delay: number;
  readonly inverted: boolean;
}

/** The average stroke in both mics: the second as recorded, and as it is set. */
export function strokeSeries(
  value: PairEvidence,
  { delay, inverted }: PairSet,
  main: Mic,
  second: Mic,
  sampleRate: number,
): Series[] {
  const sign = inverted ? -1 : 1;
  const shift = (1000 * delay) / sampleRate;
  const line = (of: (i: number) => number, by = 0) =>
    value.timeMs.map((t, i): [number, number] => [t + by, of(i)]);
  const { deviation } = value;
  return [
    { label: `${shortName(main.file)}, main`, color: "ink", width: 2.5, points: line((i) => value.main[i]!) },
    {
      label: "as recorded",
      color: "ink-soft",
      dashed: true,
      width: 1.25,
      points: line((i) => value.second[i]!),
    },
    {
      label: `${shortName(second.file)} as set`,
      color: "accent",
      width: 2.25,
      points: line((i) => sign * value.second[i]!, shift),
    },
    {
      label: "its spread over the strokes",
      color: "accent",
      dashed: true,
      width: 1,
      points: line((i) => sign * value.second[i]! + deviation[i]!, shift),
    },
  ];
}

/** Low end of the sum against the delay, with the second mic as it came and turned over. */
export function curveSeries({ curve }: PairEvidence, inverted: boolean): Series[] {
  const line = (levels: readonly number[]) => curve.delays.map((d, i): [number, number] => [d, levels[i]!]);
  const one = (label: string, color: string, levels: readonly number[], set: boolean): Series => ({
    label,
    color,
    width: set ? 2.5 : 1.25,
    dashed: !set,
    points: line(levels),
  });
  return [
    one("as recorded", "snare", curve.normal, !inverted),
    one("turned over", "hat", curve.inverted, inverted),
  ];
}

/** Low end of the sum as it came and as it is set, dB. */
export function lowEnds(
  { curve }: PairEvidence,
  { delay, inverted }: PairSet,
): { before: number; now: number } {
  const { delays, normal } = curve;
  const step = delays[1]! - delays[0]!;
  const at = (d: number, list: readonly number[]) => {
    const i = Math.min(delays.length - 2, Math.max(0, Math.floor((d - delays[0]!) / step)));
    const share = Math.min(1, Math.max(0, (d - delays[i]!) / step));
    return list[i]! + share * (list[i + 1]! - list[i]!);
  };
  return { before: at(0, normal), now: at(delay, inverted ? curve.inverted : normal) };
}
