import Joi from "joi";
import type { Operation } from "../../core/song/operations";
import { layerOrigins, taskKinds, type LayerSource, type TaskKind } from "../../contract";
import { deliveryRates, dithers, fileFormats, longestTail, targets } from "../../core/deliver/delivery";
import { object, type Check } from "../../core/schema";
import { checkAsked } from "../../core/song/checkOperation";
import { drumPieces, type Piece, type ProcessorState } from "../../core/song/song";
import * as song from "../../core/song/schema";
import { largestFile, mostMics } from "../useCases/importAudio";

/** What the core declares, asked at the border. */
const declared = (check: Check) =>
  Joi.custom((value: unknown, helpers) => {
    try {
      check(value, helpers.state.path?.join(".") || "value");
      return value;
    } catch (error) {
      return helpers.message({ custom: (error as Error).message });
    }
  });
const operation = declared(checkAsked);

/** A chain that is kept, by name. */
export const keptChainSchema = Joi.object<{ name: string; chain: readonly ProcessorState[] }>({
  name: Joi.string().trim().min(1).max(60).required(),
  chain: declared(song.chain.bus).required(),
});
/** Two mics or buses: which is covered, and by which. */
export const maskingSchema = Joi.object<{ of: string; by: string }>({
  of: Joi.string().max(80).required(),
  by: Joi.string().max(80).invalid(Joi.ref("of")).required(),
});
/** A change that the server makes of a song that is still at a version. */
export const versionSchema = Joi.object<{ version: number }>({
  version: Joi.number().integer().min(0).required(),
});
/** A layer: its drum, and where its sounds come from. */
export const layerSchema = Joi.object<LayerSource & { version: number }>({
  version: Joi.number().integer().min(0).required(),
  drum: Joi.valid(...drumPieces).required(),
  from: Joi.valid(...layerOrigins).required(),
  files: Joi.array().items(Joi.string().max(80)).unique().max(mostMics).default([]),
}).custom((value: LayerSource, helpers) =>
  value.from === "files" && value.files.length === 0
    ? helpers.message({ custom: "a layer from files names at least one of them" })
    : value,
);
/** A state of a song under a name of one's own. */
export const revisionSchema = Joi.object<{ name: string; note: string }>({
  name: Joi.string().trim().min(1).max(80).required(),
  note: Joi.string().trim().max(2000).allow("").default(""),
});
/** The song, or one drum of it, goes back to a revision. */
export const restoreSchema = Joi.object<{ version: number; drum: Piece | null }>({
  version: Joi.number().integer().min(0).required(),
  drum: Joi.valid(null, ...drumPieces).default(null),
});
export const revisionNumber = Joi.number().integer().min(1).max(1_000_000).required().label("number");
export const sectionSchema = Joi.string().max(60).required().label("section");
export const busSchema = Joi.string().max(80).required().label("bus");

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
  kind: Joi.valid(...taskKinds).required(),
  options: Joi.object({
    stems: Joi.boolean(),
    buses: Joi.boolean(),
    beside: Joi.boolean(),
    format: Joi.valid(...fileFormats),
    dither: Joi.valid(...dithers),
    sampleRate: Joi.valid(null, ...deliveryRates),
    section: Joi.string().max(80).allow(null),
    names: Joi.string().min(1).max(200),
    target: Joi.valid(...Object.keys(targets)),
    limit: Joi.boolean(),
    tail: Joi.number().min(0).max(longestTail),
    midi: Joi.boolean(),
    mics: Joi.array().items(Joi.string().max(80)).min(1).max(64),
    label: Joi.string().trim().min(1).max(200),
    labels: Joi.boolean(),
    version: Joi.number().integer().min(0),
    values: declared(
      object(
        {},
        { tempo: song.songFields.tempo, tighten: song.tighten, hits: song.hits, detection: song.detection },
      ),
    ),
  })
    .when("kind", {
      is: "tighten",
      then: Joi.object({ label: Joi.required(), values: Joi.required(), version: Joi.required() }),
    })
    .required(),
});
