import Joi from "joi";
import type { Operation } from "../../core/song/operations";
import type { TaskKind } from "../db/queries/task";
import { grids, hitKinds, pieces, places } from "../../core/song/song";
import { largestFile } from "../useCases/importAudio";

const id = Joi.string().max(80).required();
const level = Joi.number().min(-100).max(24);
const seconds = Joi.number().min(0).max(86400);

const piece = Joi.valid(...pieces);
const share = Joi.number().min(0).max(1);
const hit = Joi.object({
  piece: piece.required(),
  time: seconds.required(),
  levelDb: Joi.number().min(-200).max(40).required(),
  ghost: Joi.boolean().required(),
  kind: Joi.valid(...hitKinds).required(),
  sure: share.required(),
});
const hits = Joi.array().items(hit).max(200000);
const foundAt = { piece: piece.required(), time: seconds.required() };
const correction = Joi.alternatives(
  Joi.object({ type: Joi.valid("add").required(), hit: hit.required() }),
  Joi.object({ type: Joi.valid("drop").required(), ...foundAt }),
  Joi.object({ type: Joi.valid("change").required(), ...foundAt, hit: hit.required() }),
);
const detection = Joi.object({
  sensitivity: Joi.object().pattern(piece, Joi.number().min(-20).max(20)).required(),
  corrections: Joi.array().items(correction).max(100000).required(),
});
const meter = {
  beatsPerBar: Joi.number().integer().min(1).max(16).required(),
  compound: Joi.boolean().required(),
};
const tempo = Joi.object({
  bpm: Joi.number().min(30).max(300).required(),
  firstBeat: Joi.number().min(-60).max(86400).required(),
  ...meter,
  pickUp: Joi.number().integer().min(0).max(15).required(),
  meters: Joi.array()
    .items(Joi.object({ beat: Joi.number().integer().min(0).max(100000).required(), ...meter }))
    .max(1000)
    .required(),
  follows: Joi.boolean().required(),
  beats: Joi.array().items(Joi.number()).max(100000).required(),
});
const sectionId = Joi.string().min(1).max(60);
const section = Joi.object({
  id: sectionId.required(),
  name: Joi.string().max(80).required(),
  from: seconds.required(),
  to: seconds.required(),
});
const edit = Joi.object({
  at: Joi.number().integer().required(),
  shift: Joi.number().integer().required(),
  fade: Joi.number().integer().min(1).required(),
  likeness: share.required(),
  jumpDb: Joi.number().min(-200).max(200).allow(null).required(),
});
const edits = Joi.array().items(edit).max(100000);
const moves = {
  strength: share,
  grid: Joi.valid(...grids),
  swing: Joi.number().min(0.5).max(0.75),
  window: Joi.number().min(0).max(0.1),
  largest: Joi.number().min(0).max(0.2),
};
const tighten = Joi.object({
  ...moves,
  leaders: Joi.array().items(piece).max(pieces.length).unique(),
  keepLean: Joi.boolean(),
  between: Joi.valid("nearest", "spread"),
  byPiece: Joi.object().pattern(piece, share),
  bySection: Joi.object().pattern(sectionId, Joi.object(moves)).max(500),
  locked: Joi.array()
    .items(Joi.object({ from: seconds.required(), to: seconds.required() }))
    .max(1000),
  left: Joi.array().items(seconds).max(100000),
  alone: Joi.array().items(piece).max(pieces.length).unique(),
}).fork(
  ["strength", "grid", "swing", "window", "largest", "leaders", "keepLean", "between", "byPiece", "bySection", "locked", "left", "alone"], // prettier-ignore
  (key) => key.required(),
);
const levelBySection = Joi.object().pattern(sectionId, level).max(500);
const paramValues = Joi.object()
  .pattern(Joi.string().max(60), Joi.alternatives(Joi.number(), Joi.string().max(60)))
  .max(200);
const send = Joi.object({ bus: id, level: level.required(), beforeFader: Joi.boolean().required() });

/** Operations that the interface may ask for. Mics come in by import only; parameters are checked by their declaration. */
const operations: Record<Exclude<Operation["op"], "addMics">, Joi.ObjectSchema> = {
  setSong: Joi.object({
    values: Joi.object({
      title: Joi.string().trim().min(1).max(200),
      tempo: tempo.allow(null),
      hits,
      sections: Joi.array().items(section).max(500),
      align: Joi.object({
        anchor: Joi.valid("close", "overheads").required(),
        rooms: Joi.number().min(0).max(50).allow(null).required(),
      }),
      plan: Joi.object({
        mirrored: Joi.boolean().required(),
        places: Joi.object()
          .pattern(Joi.valid(...pieces), Joi.array().items(Joi.number().min(-400).max(400)).length(2))
          .required(),
      }),
      tighten,
      edits,
      detection,
      referenceRecord: Joi.string().max(80).allow(null),
      refused: Joi.array().items(Joi.string().max(120)).max(1000),
    })
      .min(1)
      .required(),
  }),
  setMic: Joi.object({
    mic: id,
    values: Joi.object({
      piece: Joi.valid(...pieces),
      place: Joi.valid(...places),
      sure: Joi.number().min(0).max(1),
      level,
      levelBySection,
      muted: Joi.boolean(),
      soloed: Joi.boolean(),
      locked: Joi.boolean(),
      key: id.allow(null).optional(),
      ownEdits: edits,
      start: Joi.number()
        .integer()
        .min(0)
        .max(2 ** 40),
    })
      .min(1)
      .required(),
  }),
  setBus: Joi.object({
    bus: id,
    values: Joi.object({
      name: Joi.string().trim().min(1).max(60),
      level,
      levelBySection,
      muted: Joi.boolean(),
      soloed: Joi.boolean(),
    })
      .min(1)
      .required(),
  }),
  setProcessor: Joi.object({
    owner: id,
    processor: id,
    on: Joi.boolean(),
    params: paramValues,
    bySection: Joi.object().pattern(sectionId, paramValues).max(500),
  }),
  renamePieces: Joi.object({
    names: Joi.object()
      .pattern(Joi.valid(...pieces), Joi.valid(...pieces))
      .min(1)
      .required(),
  }),
  setSends: Joi.object({ mic: id, sends: Joi.array().items(send).max(32).required() }),
  removeMics: Joi.object({ mics: Joi.array().items(Joi.string().max(80)).min(1).max(64).required() }),
  several: Joi.object({ operations: Joi.array().items(Joi.custom(checkOperation)).max(2000).required() }),
};

/** Checks an operation by its kind, and those inside it. */
function checkOperation(value: unknown, helpers: Joi.CustomHelpers): unknown {
  const { op, ...rest } = (value ?? {}) as { op?: unknown };
  const schema = typeof op === "string" && Object.hasOwn(operations, op) && operations[op as "setSong"];
  if (!schema) return helpers.message({ custom: `unknown operation ${JSON.stringify(op)}` });
  const { error } = schema.validate(rest, { convert: false });
  return error ? helpers.message({ custom: `${String(op)}: ${error.message}` }) : value;
}
const operation = Joi.custom(checkOperation);

/** Most frames of one mic in an answer; with the mics bounded too, an answer stays below 100 MB. */
const framesAtOnce = 131072;
export const sideBySideSchema = Joi.object<{ ids: string[]; starts: number[]; from: number; count: number }>({
  starts: Joi.array()
    .items(
      Joi.number()
        .integer()
        .min(0)
        .max(2 ** 40),
    )
    .max(64)
    .required(),
  ids: Joi.array()
    .items(Joi.string().guid({ version: "uuidv4" }))
    .min(1)
    .max(64)
    .required(),
  from: Joi.number().integer().min(0).required(),
  count: Joi.number().integer().min(1).max(framesAtOnce).required(),
});

/** A file that is about to be sent in parts. */
export const uploadSchema = Joi.object<{ name: string; bytes: number; mark: string }>({
  name: Joi.string().min(1).max(1000).required(),
  bytes: Joi.number().integer().min(0).max(largestFile).required(),
  mark: Joi.string().max(100).required(),
});

const version = Joi.number().integer().min(0).required();

export const editSchema = Joi.object<{ version: number; label: string; operation: Operation }>({
  version,
  label: Joi.string().trim().min(1).max(200).required(),
  operation: operation.required(),
});
export const historySchema = Joi.object<{ version: number; direction: "undo" | "redo" }>({
  version,
  direction: Joi.valid("undo", "redo").required(),
});
export const pastSchema = Joi.number().integer().min(0).max(1e9).required().label("position");
export const createSchema = Joi.object<{ title: string }>({
  title: Joi.string().trim().min(1).max(200).required(),
});
export const taskSchema = Joi.object<{ kind: TaskKind; options: object }>({
  kind: Joi.valid("analyse", "export", "clock", "tighten").required(),
  options: Joi.object({
    stems: Joi.boolean(),
    buses: Joi.boolean(),
    format: Joi.valid("wav16", "wav24", "wav32f", "flac"),
    mics: Joi.array().items(Joi.string().max(80)).min(1).max(64),
    label: Joi.string().trim().min(1).max(200),
    labels: Joi.boolean(),
    version: Joi.number().integer().min(0),
    values: Joi.object({ tempo: tempo.allow(null), tighten, hits, detection }).min(1),
  })
    .when("kind", {
      is: "tighten",
      then: Joi.object({ label: Joi.required(), values: Joi.required(), version: Joi.required() }),
    })
    .required(),
});
