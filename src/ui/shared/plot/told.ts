import type { AxisSpec } from "./types";

/** A value of an axis in its own words, or in three digits. */
export const told = ({ format }: AxisSpec, value: number): string => {
  const short = Number(value.toPrecision(3));
  return format ? format(short) : String(short).replace("-", "−");
};

/** What an axis says beside what it is called: in brackets, what can be done; apart, what its ends mean. */
const aside = / \(.*\)$|^\S+ {2,}| {2,}\S+$/g;

/** A value with its unit, and of what it is one: an axis is called "Frequency, Hz" or "Level, dB, over 40 strokes". */
export function toldWhole(axis: AxisSpec, value: number): { readonly of: string; readonly text: string } {
  const [of = "", unit = ""] = axis.label.replace(aside, "").split(", ");
  const text = told(axis, value);
  // Thousands that stand at the number belong to the unit.
  const thousands = unit !== "" && text.endsWith("k");
  return { of, text: `${thousands ? text.slice(0, -1) : text} ${thousands ? "k" : ""}${unit}`.trim() };
}
