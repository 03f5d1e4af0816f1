import { copyChain, crushedBy, type CopyKind } from "../../core/blend/copyChains";
import { panGains } from "../../core/measure/panGains";
import { strokesIn } from "../../core/shape/heardDrums";
import { gainToDb } from "../../core/signal/level";
import { partsOf } from "../../core/song/chain";
import { newProcessor } from "../../core/song/create";
import { isMic, type Owner } from "../../core/song/graph";
import type { ProcessorState, Song } from "../../core/song/song";
import { inputBehind } from "../shared/chainInput";
import { askEvidence } from "../shared/evidenceClient";
import { medianOr } from "../shared/medianOr";

/** What the pan makes of a mic on its louder side: by so much less it comes into a bus. */
function placed(owner: Owner): ProcessorState[] {
  if (!isMic(owner)) return [];
  const gain = gainToDb(Math.max(...panGains(owner, 0, 0)));
  return gain === 0 ? [] : [newProcessor(owner.id, "trim", true, { gain })];
}

/** A value of tenths within so many to either side. */
const tenths = (value: number, least: number, most: number): number =>
  Math.round(10 * Math.min(most, Math.max(least, value))) / 10;

/**
 * The chain of a copy of a mic or bus with what of it is fitted to the strokes that come into it.
 * Errors  Error in words when the strokes cannot be measured.
 */
export async function fitCopy(
  kind: CopyKind,
  song: Song,
  id: string,
  owner: Owner,
  tone: Parameters<typeof copyChain>[1],
): Promise<ProcessorState[]> {
  const { chain, fitted } = copyChain(kind, tone);
  const { last } = partsOf(owner.chain);
  const own = owner.chain.slice(0, owner.chain.length - last.length);
  const others = chain.filter((p) => p !== fitted);
  const { input } = inputBehind(song, id, owner, [...own, ...placed(owner), ...others]);
  const { mains } = strokesIn(song, owner);
  const set = (params: ProcessorState["params"]) => ({ ...fitted, params: { ...fitted.params, ...params } });
  const effectOf = (processor: ProcessorState) =>
    askEvidence("effect", { input, mains, ring: null, processor });
  /** Turned down by so much at half of the strokes, and as loud as before. */
  const crushed = async () => {
    const ask = { input, processor: fitted, level: "threshold", mains, wishedDb: crushedBy };
    const { threshold } = await askEvidence("fit", ask);
    const { loudnessBefore, loudnessAfter } = await effectOf(set({ threshold }));
    return set({ threshold, makeup: tenths(loudnessBefore.whole - loudnessAfter.whole, 0, 30) });
  };
  /** Its attacks as high as they come in. */
  const attacks = async () => {
    const { peakBefore, peakAfter } = await effectOf(fitted);
    const higher = medianOr(
      peakAfter.map((p, i) => p - peakBefore[i]!),
      0,
    );
    return set({ output: tenths(-higher, -24, 24) });
  };
  const done = await (kind === "crushed" ? crushed() : attacks());
  return chain.map((p) => (p === fitted ? done : p));
}
