import type { ParamValue } from "../params";
import { partsOf } from "./chain";
import { addedProcessor } from "./chainEdits";
import { firstOf, micChain } from "./create";
import type { Owner } from "./graph";
import type { Operation } from "./operations";

/** Place of a new processor among those that are there: the order that chains usually have. */
function usualPlace(types: readonly string[], type: string): number {
  const rank = (t: string) => (micChain as readonly string[]).indexOf(t);
  if (rank(type) < 0) return types.length;
  const at = types.findIndex((t) => rank(t) > rank(type));
  return at < 0 ? types.length : at;
}

/** Sets the first processor of a type, and puts one in where the chain has none. */
export function putProcessor(
  owner: Owner,
  type: string,
  params: Readonly<Record<string, ParamValue>>,
  on?: boolean,
): Operation {
  const found = firstOf(owner, type);
  if (found)
    return {
      op: "setProcessor",
      owner: owner.id,
      processor: found.id,
      params,
      ...(on === undefined ? {} : { on }),
    };
  const { free } = partsOf(owner.chain);
  const at = usualPlace(
    free.map((p) => p.type),
    type,
  );
  return addedProcessor(owner, type, at, params, on).operation;
}
