import { byField, flag, list, object, record, text, type Check } from "../schema";
import { limits } from "./limits";
import type { Operation } from "./operation";
import * as schema from "./schema";

const { id } = schema;
const op = text(20);
function noneTwice(names: readonly string[], path: string): void {
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined) throw new RangeError(`${path} names "${twice}" twice`);
}
/** Ids of things, none of them twice: what is taken out twice would come back twice. */
const ids =
  (most: number, least = 1): Check =>
  (value, path) => {
    list(id, most, least)(value, path);
    noneTwice(value as readonly string[], path);
  };
/** Sends to different buses: two to one could not be told apart. Songs that hold such ones already are still read. */
const newSends: Check = (value, path) => {
  schema.sends(value, path);
  noneTwice(
    (value as readonly { bus: string }[]).map((s) => s.bus),
    path,
  );
};
const some = (fields: Readonly<Record<string, Check>>): Check => object({}, fields);
/** Operations inside others at most. */
const mostOperations = 5000;

const shapes: Readonly<Record<Operation["op"], Check>> = {
  setSong: object({ op, values: some(schema.songFields) }),
  setMic: object({ op, mic: id, values: some(schema.micFields) }),
  setBus: object({ op, bus: id, values: some(schema.busFields) }),
  setProcessor: object(
    { op, owner: id, processor: id },
    {
      on: flag,
      params: schema.params,
      bySection: schema.bySection,
      key: schema.optionalId,
      response: schema.optionalId,
    },
  ),
  setChain: object({ op, owner: id, chain: schema.anyChain }),
  renamePieces: object({ op, names: record(schema.piece, schema.piece, 20) }),
  setSends: object({ op, owner: id, sends: newSends }),
  addMics: object({ op, mics: list(schema.mic, limits.mics) }, { order: ids(limits.mics) }),
  removeMics: object({ op, mics: ids(limits.mics) }, { order: ids(limits.mics, 0) }),
  addBuses: object({ op, buses: list(schema.bus, limits.buses) }, { order: ids(limits.buses) }),
  removeBuses: object({ op, buses: ids(limits.buses) }, { order: ids(limits.buses, 0) }),
  several: (value, path) => several(value, path),
};
const any = byField("op", shapes);
const several = object({ op, operations: list(any, mostOperations) });

/**
 * Checks what an operation says, apart from the song it is for.
 * Errors  RangeError or TypeError that names the field, its value and what is allowed.
 */
export function checkOperation(value: unknown): asserts value is Operation {
  const name = (value as { op?: unknown } | null)?.op;
  if (typeof name !== "string" || !Object.hasOwn(shapes, name))
    throw new TypeError(`unknown operation ${JSON.stringify(name)}`);
  any(value, name);
}

const fromOutsideSong = [
  "title",
  "tempo",
  "hits",
  "sections",
  "align",
  "plan",
  "shaping",
  "quick",
  "tighten",
  "edits",
  "detection",
  "referenceRecord",
  "refused",
];
const fromOutsideMic = [
  "piece",
  "place",
  "sure",
  "level",
  "levelBySection",
  "levelMoves",
  "muted",
  "soloed",
  "locked",
  "ownEdits",
  "layer",
  "start",
  "output",
];

/**
 * Checks an operation that comes over a border: mics come in by import only, and what an analysis measures by it only.
 * Errors  as checkOperation.
 */
export function checkAsked(value: unknown): asserts value is Operation {
  checkOperation(value);
  const look = (o: Operation): void => {
    if (o.op === "several") return o.operations.forEach(look);
    if (o.op === "addMics") throw new TypeError('unknown operation "addMics": mics come in as files');
    const open = o.op === "setSong" ? fromOutsideSong : o.op === "setMic" ? fromOutsideMic : null;
    const closed = open && Object.keys((o as { values: object }).values).find((name) => !open.includes(name));
    if (closed) throw new TypeError(`${o.op}: "${closed}" is measured and cannot be set`);
  };
  look(value);
}
