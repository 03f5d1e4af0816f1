import type { Operation } from "./operations";
import type { Step } from "./song";

/** One thing a step suggests: a sentence, a figure, and what taking it does. */
export interface Proposal {
  readonly id: string;
  readonly step: Step;
  /** Mic or bus it is about. */
  readonly owner: string;
  readonly sentence: string;
  readonly figure: string;
  readonly operation: Operation;
}
