import { newProcessor } from "./create";
import type { ProcessorState } from "./song";

/** A processor of a recipe: its type, and what of it is set. */
export type ChainPart = readonly [type: string, params: ProcessorState["params"]];

/** A recipe as the chain of a bus that is made for it, all of it on. */
export const partsAsChain = (bus: string, parts: readonly ChainPart[]): ProcessorState[] =>
  parts.map(([type, params], n) => ({
    ...newProcessor(bus, type, true, params),
    id: `${bus}.${type}${n > 0 ? n + 1 : ""}`,
  }));
