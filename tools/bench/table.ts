import { mkdirSync, writeFileSync } from "node:fs";

export interface Row {
  readonly name: string;
  readonly value: number;
  readonly unit: string;
  /** Largest minus smallest over the median of the rounds. */
  readonly spread?: number;
  /** What is wanted, in the same unit. */
  readonly budget?: string;
}
const rows: Row[] = [];

export const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!;
export const spreadOf = (list: readonly number[]): number =>
  (Math.max(...list) - Math.min(...list)) / median(list);
export const percentile = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(share * list.length))]!;

/** Seconds that some work takes. */
export function seconds(work: () => void): number {
  const from = process.hrtime.bigint();
  work();
  return Number(process.hrtime.bigint() - from) / 1e9;
}
export async function secondsOf(work: () => Promise<unknown>): Promise<number> {
  const from = process.hrtime.bigint();
  await work();
  return Number(process.hrtime.bigint() - from) / 1e9;
}

/** Notes and prints one figure. */
export function note(row: Row): void {
  rows.push(row);
  const noise = row.spread === undefined ? "" : ` (spread ${(100 * row.spread).toFixed(0)} %)`;
  const budget = row.budget ? `   wanted: ${row.budget}` : "";
  process.stdout.write(
    `${row.name.padEnd(66)} ${row.value.toFixed(2).padStart(9)} ${row.unit}${noise}${budget}\n`,
  );
}

/** Writes all figures of this run as JSON. */
export function save(name: string): void {
  mkdirSync("test-results", { recursive: true });
  writeFileSync(`test-results/${name}.json`, JSON.stringify({ node: process.version, rows }, null, 1));
}
