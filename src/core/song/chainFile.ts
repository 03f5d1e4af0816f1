import { resolveParams, type AnyValues, type ParamValue } from "../params";
import { processorType } from "../processors";
import type { ProcessorState } from "./song";

/**
 * Reads `{ "processors": [ { "type": "eq", "on": true, "params": { … } } ], "hits": [1.2, …], "beats": [0, 0.5, …] }`.
 * Errors  TypeError or RangeError that names the processor, parameter, value and range.
 */
export function parseChain(json: unknown): { chain: ProcessorState[]; hits: number[]; beats: number[] } {
  const file = json as { processors?: unknown; hits?: unknown; beats?: unknown } | null;
  if (!file || typeof file !== "object" || !Array.isArray(file.processors))
    throw new TypeError('a chain is { "processors": [ … ] }');
  const chain = file.processors.map((entry: unknown, i): ProcessorState => {
    const {
      type,
      params = {},
      on = true,
    } = (entry ?? {}) as { type?: unknown; params?: unknown; on?: unknown };
    if (typeof type !== "string") throw new TypeError(`processor ${i + 1} has no type`);
    if (typeof params !== "object" || params === null)
      throw new TypeError(`processor ${i + 1} (${type}): params must be an object`);
    const table = processorType(type).params;
    try {
      return {
        id: `p${i + 1}`,
        type,
        on: on !== false,
        params: resolveParams(table, params as AnyValues) as Record<string, ParamValue>,
      };
    } catch (error) {
      throw new RangeError(`processor ${i + 1} (${type}): ${(error as Error).message}`);
    }
  });
  const seconds = (name: "hits" | "beats"): number[] => {
    const list = file[name] ?? [];
    if (!Array.isArray(list) || list.some((t) => typeof t !== "number" || !Number.isFinite(t)))
      throw new TypeError(`${name} must be a list of seconds`);
    return list as number[];
  };
  return { chain, hits: seconds("hits"), beats: seconds("beats") };
}
