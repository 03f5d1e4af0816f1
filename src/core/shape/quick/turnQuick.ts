import { sameValue } from "../../sameValue";
import { partsOf, withFree } from "../../song/chain";
import { newProcessor } from "../../song/create";
import { type Owner } from "../../song/graph";
import type { Operation } from "../../song/operations";
import type { ProcessorState, QuickState, Song } from "../../song/song";
import {
  quickParts,
  quickSettings,
  quickTypes,
  rests,
  type QuickPart,
  type QuickSettings,
  type QuickType,
} from "./quickRules";

export const quickId = (owner: string, type: QuickType): string => `${owner}.quick.${type}`;
export const isQuick = (owner: Pick<Owner, "id">, id: string): boolean =>
  quickTypes.some((type) => quickId(owner.id, type) === id);

const find = (owner: Owner, type: QuickType): ProcessorState | undefined =>
  owner.chain.find((p) => p.id === quickId(owner.id, type) && p.type === type);

/** Parts that somebody has set otherwise since the controls set them, or taken out: they are the user's, and stay as they are. */
export function ownParts(song: Pick<Song, "quick">, owner: Owner): QuickPart[] {
  const state = song.quick[owner.id];
  if (!state) return [];
  const settings = quickSettings(state);
  const differs = (type: QuickType, params: ProcessorState["params"]): boolean => {
    const found = find(owner, type);
    if (!found) return true;
    return (
      (!found.on && !rests(type, found.params)) ||
      Object.entries(params).some(([name, value]) => !sameValue(found.params[name], value))
    );
  };
  return quickParts.filter((part) =>
    Object.entries(settings[part]).some(([type, params]) => differs(type as QuickType, params)),
  );
}

/** Values of one processor out of the parts that are set. */
const valuesOf = (
  settings: QuickSettings,
  type: QuickType,
  parts: readonly QuickPart[],
): ProcessorState["params"] =>
  Object.assign({}, ...parts.map((part) => settings[part][type] ?? {})) as ProcessorState["params"];

/** Puts processors in at the end of the chain, set as the controls stand. */
function broughtIn(owner: Owner, settings: QuickSettings, types: readonly QuickType[]): Operation {
  const { free } = partsOf(owner.chain);
  const fresh = types.map((type): ProcessorState => {
    const params = valuesOf(settings, type, quickParts);
    return { ...newProcessor(owner.id, type, !rests(type, params), params), id: quickId(owner.id, type) };
  });
  return { op: "setChain", owner: owner.id, chain: withFree(owner.chain, [...free, ...fresh]) };
}

/** Writes parts into the processors that are there; where none is, or none any more, all come in. */
function written(owner: Owner, state: QuickState, parts: readonly QuickPart[]): Operation[] {
  const settings = quickSettings(state);
  if (!quickTypes.some((type) => find(owner, type))) return [broughtIn(owner, settings, quickTypes)];
  return quickTypes.flatMap((type): Operation[] => {
    const found = find(owner, type);
    const params = valuesOf(settings, type, parts);
    if (!found || Object.keys(params).length === 0) return [];
    const on = type === "transient" ? !rests(type, { ...found.params, ...params }) : found.on;
    return [
      {
        op: "setProcessor",
        owner: owner.id,
        processor: found.id,
        params,
        ...(on === found.on ? {} : { on }),
      },
    ];
  });
}

/**
 * Turns the quick controls of a mic or bus, as one change: the values they stand for are written into real processors at the end of
 * its chain, but for parts that are the user's by now.
 */
export function turnQuick(song: Song, owner: Owner, state: QuickState): Operation {
  const own = ownParts(song, owner);
  const parts = quickParts.filter((part) => !own.includes(part));
  const quick = { ...song.quick, [owner.id]: state };
  return {
    op: "several",
    operations: [{ op: "setSong", values: { quick } }, ...written(owner, state, parts)],
  };
}

/** Gives a part back to its control: it is set as the control stands. */
export function giveBack(song: Song, owner: Owner, part: QuickPart): Operation {
  const state = song.quick[owner.id]!;
  // A processor that is gone comes in again, with all that it had.
  const gone = quickTypes.filter((type) => !find(owner, type));
  const settings = quickSettings(state);
  const again = gone.filter((type) => settings[part][type]);
  if (again.length === 0) return { op: "several", operations: written(owner, state, [part]).map(switchedOn) };
  return broughtIn(owner, settings, again);
}
const switchedOn = (o: Operation): Operation =>
  o.op === "setProcessor" && o.on === undefined && !o.processor.endsWith(".transient")
    ? { ...o, on: true }
    : o;

/** Takes the quick controls of a mic or bus and what they drive out. */
export function withoutQuick(song: Song, owner: Owner): Operation {
  const { [owner.id]: _, ...quick } = song.quick;
  const { free } = partsOf(owner.chain);
  const rest = free.filter((p) => !isQuick(owner, p.id));
  return {
    op: "several",
    operations: [
      { op: "setSong", values: { quick } },
      ...(rest.length === free.length
        ? []
        : [{ op: "setChain", owner: owner.id, chain: withFree(owner.chain, rest) } as const]),
    ],
  };
}
