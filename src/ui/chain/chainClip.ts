import { create } from "zustand";
import type { ProcessorState } from "../../core/song/song";
import type { KeptChain } from "../../contract";
import { api, ApiError } from "../shared/api";

interface ChainClip {
  /** Processors that were copied, in their order. */
  readonly copied: readonly ProcessorState[];
  /** What they were copied from, in words. */
  readonly from: string;
  /** Mic or bus of this song they were copied from; null: none. */
  readonly source: string | null;
  /** Chains under names of one's own; null: not asked for yet. */
  readonly kept: readonly KeptChain[] | null;
  readonly trouble: string | null;
}

/** What was copied from chains, and chains that are kept for all songs. */
export const useChainClip = create<ChainClip>()(() => ({
  copied: [],
  from: "",
  source: null,
  kept: null,
  trouble: null,
}));

export const copyProcessors = (
  copied: readonly ProcessorState[],
  from: string,
  source: string | null = null,
): void => useChainClip.setState({ copied, from, source });

async function asked(work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    useChainClip.setState({ kept: await api.keptChains(), trouble: null });
    return true;
  } catch (error) {
    useChainClip.setState({
      trouble: error instanceof ApiError ? error.message : "The kept chains could not be read.",
    });
    return false;
  }
}
export const loadKept = (): Promise<boolean> => asked(async () => {});
export const keepChain = (name: string, chain: readonly ProcessorState[]): Promise<boolean> =>
  asked(() => api.keepChain(name, chain));
export const giveUpChain = (id: string): Promise<boolean> => asked(() => api.giveUpChain(id));
