import type { KeptChain } from "../../contract";
import type { ProcessorState } from "../../core/song/song";
import { pool } from "../db/pool";
import { countKeptChains, deleteKeptChain, keepChain, listKeptChains } from "../db/queries/keptChain";
import { AppError } from "../errors";

/** Chains that are kept at most. */
const most = 500;

export const keptChains = (): Promise<KeptChain[]> => listKeptChains(pool());

/** Keeps processors under a name; keys and values of sections belong to one song and stay there. */
export async function keep(name: string, chain: readonly ProcessorState[]): Promise<KeptChain> {
  if ((await countKeptChains(pool())) >= most)
    throw new AppError("invalid", `${most} chains are kept already; give one up first. Nothing was changed.`);
  const plain = chain.map(({ id, type, on, params }) => ({ id, type, on, params }));
  return keepChain(pool(), name, plain);
}

export async function giveUp(id: string): Promise<object> {
  if (!(await deleteKeptChain(pool(), id)))
    throw new AppError("not_found", "This chain is not kept any more.");
  return {};
}
