import { sameValue } from "../sameValue";
import { processorType } from "../processors";
import { usualPan } from "../song/create";
import { ownerOf } from "../song/graph";
import type { Operation } from "../song/operations";
import type { ProcessorState, Song } from "../song/song";
import type { Proposal } from "../song/proposal";

const leavesOf = (o: Operation): Operation[] => (o.op === "several" ? o.operations.flatMap(leavesOf) : [o]);

function processorIn(song: Song, o: Extract<Operation, { op: "setProcessor" }>): ProcessorState | undefined {
  return ownerOf(song, o.owner)?.chain.find((p) => p.id === o.processor);
}

const holds = (target: object | undefined, values: object): boolean =>
  target !== undefined &&
  Object.entries(values).every(([k, v]) => sameValue((target as Record<string, unknown>)[k], v));

/** True when one operation would change nothing any more. */
function inForce(song: Song, o: Operation): boolean {
  switch (o.op) {
    case "setProcessor": {
      const state = processorIn(song, o);
      return !!state && (o.on === undefined || state.on === o.on) && holds(state.params, o.params ?? {});
    }
    case "setMic":
      return holds(
        song.mics.find((m) => m.id === o.mic),
        o.values,
      );
    case "setBus":
      return holds(
        song.buses.find((b) => b.id === o.bus),
        o.values,
      );
    case "setSends":
      return sameValue(ownerOf(song, o.owner)?.sends, o.sends);
    case "setChain":
      return sameValue(ownerOf(song, o.owner)?.chain, o.chain);
    default:
      return false;
  }
}

/** True when taking a proposal would change nothing any more. */
export const isTaken = (song: Song, { operation }: Pick<Proposal, "operation">): boolean =>
  leavesOf(operation).every((o) => inForce(song, o));

/** A move of a mic's fader and of nothing else: once it was moved, it is somebody's. */
const isFader = (o: Operation): o is Extract<Operation, { op: "setMic" }> =>
  o.op === "setMic" && sameValue(Object.keys(o.values), ["level"]);

/** True when somebody has set by hand what the operation is about. */
function isSet(song: Song, o: Operation): boolean {
  if (isFader(o)) return song.mics.some((m) => m.id === o.mic && m.level !== 0);
  if (o.op !== "setProcessor") return inForce(song, o);
  const state = processorIn(song, o);
  if (!state) return true;
  if (o.on !== undefined) return state.on;
  const { params } = processorType(state.type);
  const mic = song.mics.find((m) => m.id === o.owner);
  // A new mic is panned by its label, and nobody has set that.
  if (state.type === "pan" && mic && state.params["position"] === usualPan(mic)) return false;
  return Object.keys(o.params ?? {}).some((name) => state.params[name] !== params[name]!.default);
}

/** True when a proposal needs no decision any more: taken, refused, or set otherwise by hand. */
export const isDecided = (song: Song, proposal: Proposal): boolean =>
  song.refused.includes(proposal.id) ||
  isTaken(song, proposal) ||
  leavesOf(proposal.operation).some((o) => (o.op === "setProcessor" || isFader(o)) && isSet(song, o));
