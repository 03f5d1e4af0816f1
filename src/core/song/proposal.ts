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

/** What a proposal is about, as its id tells: for one of Shape the type of the processor that it sets. */
export const aboutOf = ({ id }: Pick<Proposal, "id">): string => id.slice(0, id.indexOf(":"));
