import type { Operation } from "./operations";
import type { Mic } from "./song";

/** Several operations as one. */
export const both = (...operations: Operation[]): Operation => ({ op: "several", operations });
/** A figure with its sign. */
export const signed = (x: number, digits = 1) => `${x >= 0 ? "+" : "−"}${Math.abs(x).toFixed(digits)}`;
/** True for a mic of which something can be proposed. */
export const usable = (m: Mic) => !m.silent && !m.unplayed;
