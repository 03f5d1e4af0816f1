import type { Facts } from "../facts/facts";
import type { AnyValues } from "../params";
import { processorType } from "../processors";
import { proposeShape } from "../shape/proposeShape";
import { firstOf } from "../song/create";
import { ownerOf } from "../song/graph";
import { applyOperation, type Operation } from "../song/operations";
import { aboutOf, type Proposal } from "../song/proposal";
import type { Flavour, Piece, Song } from "../song/song";
import { isTaken } from "./decided";
import { takeTogether } from "./takeTogether";

/** Values that the former proposal set and the new one does not go back to their defaults. */
function instead(former: Proposal, now: Proposal): Proposal {
  const values = ({ operation }: Proposal): AnyValues =>
    operation.op === "setProcessor" ? (operation.params ?? {}) : {};
  const { operation } = now;
  if (operation.op !== "setProcessor") return now;
  const { params } = processorType(aboutOf(now));
  const left = Object.keys(values(former)).filter((name) => !(name in values(now)));
  const back = Object.fromEntries(left.map((name) => [name, params[name]!.default]));
  return { ...now, operation: { ...operation, params: { ...back, ...operation.params } } };
}

/**
 * Another flavour for a drum, or for the whole kit: proposals that were taken are taken as they are in it; what has no place in
 * it is switched off; what was set otherwise by hand stays.
 */
export function changeFlavour(song: Song, facts: Facts, piece: Piece | null, flavour: Flavour): Operation {
  const { shaping } = song;
  const next =
    piece === null
      ? { ...shaping, flavour, byPiece: {} }
      : { ...shaping, byPiece: { ...shaping.byPiece, [piece]: flavour } };
  const set: Operation = { op: "setSong", values: { shaping: next } };
  const changed = applyOperation(song, set).song;
  const now = proposeShape(changed, facts);
  const before = proposeShape(song, facts);
  const taken = before.filter((p) => isTaken(song, p));
  const kept: Proposal[] = [];
  const off: Operation[] = [];
  for (const former of taken) {
    const other = now.find((p) => p.id === former.id);
    const state = firstOf(ownerOf(song, former.owner)!, aboutOf(former));
    if (other) kept.push(instead(former, other));
    else if (state) off.push({ op: "setProcessor", owner: former.owner, processor: state.id, on: false });
  }
  // What comes in only with the new flavour belongs to a drum of which everything was taken.
  const whole = new Set(taken.map((p) => p.owner));
  const added = now.filter(
    (p) => whole.has(p.owner) && !song.refused.includes(p.id) && !before.some((o) => o.id === p.id),
  );
  return { op: "several", operations: [set, ...off, ...takeTogether(changed, [...kept, ...added])] };
}
