import { isFree } from "../song/chain";
import { keysOf } from "../song/graph";
import type { Mic, ProcessorState, Send, Song } from "../song/song";
import type { ChainTap } from "./laneChain";

/** Where a mic is handed on: before or behind its chain, in its place or in the middle. */
export const micTaps = ["panned", "centred", "inputPanned", "input"] as const;
export type MicTap = (typeof micTaps)[number];

/** The tap that a send is fed from. */
export const tapOf = ({ from, followsPan }: Pick<Send, "from" | "followsPan">): MicTap =>
  from === "input" ? (followsPan ? "inputPanned" : "input") : followsPan ? "panned" : "centred";

/** By mic: the taps that its song needs, the panned one first. */
export function tapsNeeded(song: Pick<Song, "mics" | "buses">): MicTap[][] {
  const keys = new Set(song.buses.flatMap(keysOf));
  return song.mics.map((m) => {
    const asked = new Set<MicTap>(["panned", ...m.sends.map(tapOf)]);
    if (keys.has(m.id)) asked.add("centred");
    return micTaps.filter((t) => asked.has(t));
  });
}

/** Processors that every mic begins with and that a send from before its chain has passed. */
const head = (chain: readonly ProcessorState[]): number => {
  const free = chain.findIndex(isFree);
  return free < 0 ? chain.length : free;
};

/** A tap in the lanes of a chain. */
export const chainTap = (tap: MicTap, chain: Mic["chain"]): ChainTap => ({
  behind: tap === "panned" || tap === "centred" ? chain.length : head(chain),
  panned: tap === "panned" || tap === "inputPanned",
});
