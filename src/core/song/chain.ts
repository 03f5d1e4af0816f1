import { processorType, processorTypes } from "../processors";
import { limits } from "./limits";
import type { ProcessorState } from "./song";

/** Types that begin every mic's chain, in this order, and those that end it. */
export const firstTypes = ["cancel", "delay", "polarity", "rotation", "trim"] as const;
export const lastTypes = ["pan"] as const;
export const freeTypes = processorTypes.filter((t) => t.place === "free");

export const isFree = ({ type }: Pick<ProcessorState, "type">): boolean =>
  processorType(type).place === "free";

/** Parts of a chain: what must come first, what one may change, what must come last. */
export function partsOf(chain: readonly ProcessorState[]) {
  const place = (p: ProcessorState) => processorType(p.type).place;
  return {
    first: chain.filter((p) => place(p) === "first"),
    free: chain.filter((p) => place(p) === "free"),
    last: chain.filter((p) => place(p) === "last"),
  };
}
/** A chain with other processors in its free part. */
export const withFree = (
  chain: readonly ProcessorState[],
  free: readonly ProcessorState[],
): ProcessorState[] => {
  const { first, last } = partsOf(chain);
  return [...first, ...free, ...last];
};

/**
 * Checks the order of a chain.
 * Errors  RangeError that names `whose` chain it is: too many processors, two with one id, one that stands where it cannot.
 */
export function checkChain(chain: readonly ProcessorState[], whose: string, isMic: boolean): void {
  const ids = new Set<string>();
  for (const { id } of chain) {
    if (ids.has(id)) throw new RangeError(`${whose} holds two processors "${id}"`);
    ids.add(id);
  }
  const free = chain.filter(isFree);
  if (free.length > limits.processors)
    throw new RangeError(`${whose} holds ${free.length} processors; a chain takes ${limits.processors}`);
  const order = isMic ? [...firstTypes, ...free.map((p) => p.type), ...lastTypes] : free.map((p) => p.type);
  const wrong = chain.length !== order.length || chain.some((p, i) => p.type !== order[i]);
  if (wrong)
    throw new RangeError(
      isMic
        ? `${whose} must begin with ${firstTypes.join(", ")} and end with ${lastTypes.join(", ")}, each once`
        : `${whose} is that of a bus and cannot hold what only mics have: ${[...firstTypes, ...lastTypes].join(", ")}`,
    );
}
