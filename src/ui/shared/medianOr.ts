import { median } from "../../core/signal/level";

/** Middle value of a list; `fallback` where there is none, as on a mic without strokes. */
export const medianOr = (values: readonly number[], fallback: number): number =>
  values.length > 0 ? median(values) : fallback;
