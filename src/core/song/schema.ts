import { bleedBands } from "../signal/bleedBands";
import { checkParam } from "../params";
import { processorType } from "../processors";
import {
  both,
  byField,
  flag,
  list,
  object,
  oneOf,
  orNull,
  param,
  record,
  text,
  whole,
  within,
  type Check,
} from "../schema";
import { mostClockPpm } from "../signal/respeed";
import { checkChain } from "./chain";
import { checkEdits } from "./edits";
import { ghostWays, layerLimits } from "./layer";
import { moveLimits } from "./levelMoves";
import { levelParam, limits, tightenParams, widthParam } from "./limits";
import {
  busKinds,
  flavours,
  grids,
  hitKinds,
  pieces,
  places,
  quickControls,
  taps,
  type Edit,
  type ProcessorState,
} from "./song";

// Every field of a song, once: operations, files and requests are checked against this.
export const id = text(80, 1);
export const optionalId = orNull(id);
export const piece = oneOf(pieces);
const place = oneOf(places);
const share = within(0, 1);
const seconds = within(0, 86400, "s");
const decibels = within(-200, 200, "dB");
const level = param(levelParam);
const sectionId = text(60, 1);
const levelBySection = record(sectionId, level, limits.sections);
const frame = whole(0, 2 ** 40);
const move = object({ time: seconds, db: within(moveLimits.min, moveLimits.max, "dB") });
const levelMoves = both(list(move, moveLimits.points), (value, path) => {
  const all = value as readonly { time: number }[];
  const back = all.findIndex((m, i) => i > 0 && m.time <= all[i - 1]!.time);
  if (back > 0)
    throw new RangeError(`${path}[${back}] is at ${all[back]!.time} s; points of a fader ascend in time`);
});

export const hit = object({
  piece,
  time: seconds,
  levelDb: within(-200, 40, "dBFS"),
  ghost: flag,
  kind: oneOf(hitKinds),
  sure: share,
});
const foundAt = { type: text(10), piece, time: seconds };
const correction = byField("type", {
  add: object({ type: text(10), hit }),
  drop: object(foundAt),
  change: object({ ...foundAt, hit }),
});
const beatsPerBar = whole(1, 16);
const beats: Check = both(list(within(-86400, 2 * 86400, "s"), limits.beats), (value, path) => {
  const all = value as readonly number[];
  const near = all.findIndex((t, i) => i > 0 && !(t - all[i - 1]! >= limits.shortestBeat));
  if (near > 0)
    throw new RangeError(
      `${path}[${near}] is ${all[near]} s, ${all[near]! - all[near - 1]!} s behind the beat before it; beats ascend by at least ${limits.shortestBeat} s`,
    );
});
const meter = object({ beat: whole(0, limits.beats), beatsPerBar, compound: flag });
export const tempo = object({
  bpm: within(30, 300, "bpm"),
  firstBeat: within(-60, 86400, "s"),
  beatsPerBar,
  compound: flag,
  pickUp: whole(0, 15),
  meters: list(meter, 1000),
  follows: flag,
  beats,
});
const edit = object({
  at: whole(-(2 ** 40), 2 ** 40),
  shift: whole(-(2 ** 40), 2 ** 40),
  fade: whole(1, 2 ** 40),
  likeness: share,
  jumpDb: orNull(decibels),
});
export const edits: Check = both(list(edit, limits.edits), (value, path) =>
  checkEdits(value as readonly Edit[], path),
);
const moves = {
  strength: param(tightenParams.strength),
  grid: oneOf(grids),
  swing: param(tightenParams.swing),
  window: param(tightenParams.window),
  largest: param(tightenParams.largest),
};
const somePieces = list(piece, pieces.length);
export const tighten = object({
  ...moves,
  leaders: somePieces,
  keepLean: flag,
  between: oneOf(["nearest", "spread"]),
  byPiece: record(piece, share, pieces.length),
  bySection: record(sectionId, object({}, moves), limits.sections),
  locked: list(object({ from: seconds, to: seconds }), 1000),
  left: list(seconds, limits.hits),
  alone: somePieces,
});
export const detection = object({
  sensitivity: record(piece, within(-20, 20, "dB"), pieces.length),
  corrections: list(correction, limits.hits),
});
export const hits = list(hit, limits.hits);
const bandsDb = list(decibels, bleedBands, bleedBands);
const heard = object({ usualDb: bandsDb, drums: record(piece, bandsDb, pieces.length) });
export const label = object({ piece, place });

const byControl = (check: Check): Check => object(Object.fromEntries(quickControls.map((c) => [c, check])));
const hertz = within(10, 24000, "Hz");
const quickState = object({
  values: byControl(within(-100, 100, "%")),
  basis: object({
    fundamental: hertz,
    stick: hertz,
    air: hertz,
    thresholds: list(decibels, 4, 4),
    louder: byControl(list(decibels, 4, 4)),
    strokes: within(0, limits.hits, "strokes"),
  }),
  louder: decibels,
});

/** Fields of a song beside its mics and buses. */
export const songFields = {
  title: text(200, 1),
  tempo: orNull(tempo),
  hits,
  bleed: record(id, list(heard, 64), limits.mics),
  heardAs: record(id, label, 4 * limits.mics),
  detection,
  sections: list(object({ id: sectionId, name: text(80), from: seconds, to: seconds }), limits.sections),
  align: object({ anchor: oneOf(["close", "overheads"]), rooms: orNull(within(0, 50, "ms")) }),
  shaping: object({
    flavour: oneOf(flavours),
    byPiece: record(piece, oneOf(flavours), pieces.length),
    tomsTogether: flag,
  }),
  quick: record(id, quickState, 4 * limits.mics),
  plan: object({ mirrored: flag, places: record(piece, list(within(-400, 400, "cm"), 2, 2), pieces.length) }),
  tighten,
  edits,
  referenceRecord: optionalId,
  refused: list(text(120), 1000),
};

export const paramValues = record(
  text(60),
  (value, path) => {
    if (typeof value !== "number" && typeof value !== "string")
      throw new TypeError(`${path} is no number or name`);
  },
  400,
);
export const bySection = record(sectionId, paramValues, limits.sections);
export const params = paramValues;

/** Values must be those that the type declares, also by section; only a detector has a key, only a space a response. */
const declared: Check = (value, path) => {
  const state = value as ProcessorState;
  const type = processorType(state.type);
  for (const values of [state.params, ...Object.values(state.bySection ?? {})])
    for (const [name, v] of Object.entries(values)) checkParam(type.params, name, v);
  if (state.key && !type.listens)
    throw new TypeError(`${path}: ${type.label} has no detector that could listen`);
  if (state.response && !type.responds)
    throw new TypeError(`${path}: ${type.label} answers with no impulse response`);
};
const processor = both(
  object(
    { id, type: text(40, 1), on: flag, params: paramValues },
    { bySection, key: optionalId, response: optionalId },
  ),
  declared,
);
export const anyChain = list(processor, limits.processors + 16);
const micChain = both(anyChain, (value, path) => checkChain(value as ProcessorState[], path, true));
const busChain = both(anyChain, (value, path) => checkChain(value as ProcessorState[], path, false));

/** A chain of a mic, or of a bus. */
export const chain = { mic: micChain, bus: busChain };
export const sends = list(object({ bus: id, level, from: oneOf(taps), followsPan: flag }), limits.sends);

const oneShot = object({
  name: text(200),
  from: frame,
  frames: whole(1, 2 ** 32),
  onset: frame,
  levelDb: decibels,
  cleanDb: orNull(decibels),
  on: flag,
  ghost: flag,
});
const layer = object({
  drum: piece,
  sounds: list(oneShot, layerLimits.sounds),
  follow: within(0, layerLimits.follow, "%"),
  ghosts: oneOf(ghostWays),
  ringsOn: flag,
  fade: within(0, layerLimits.fade, "s"),
  strokes: orNull(list(object({ time: seconds, levelDb: decibels, ghost: flag }), limits.hits)),
  shifts: list(
    object(
      { time: seconds, frames: whole(-layerLimits.shiftFrames, layerLimits.shiftFrames) },
      { turned: flag },
    ),
    limits.hits,
  ),
});

/** Fields of a mic that can be set, and those that stay. */
export const micFields = {
  audio: orNull(text(80)),
  frames: frame,
  start: frame,
  clockPpm: within(-mostClockPpm, mostClockPpm, "ppm"),
  piece,
  place,
  sure: share,
  silent: flag,
  unplayed: flag,
  peakDbfs: (value: unknown, path: string) => {
    // Silence has no peak; JSON tells that as null.
    if (value !== null && value !== -Infinity) within(-1000, 1000, "dBFS")(value, path);
  },
  reference: optionalId,
  lateBy: within(-96000, 96000, "frames"),
  locked: flag,
  ownEdits: edits,
  layer,
  level,
  levelBySection,
  levelMoves,
  muted: flag,
  soloed: flag,
  output: id,
};
const micStays = {
  id,
  file: text(1000),
  channels: whole(1, 2),
  timeReference: orNull(within(-1e9, 1e9, "s")),
  chain: micChain,
  sends,
};
const {
  levelBySection: _optional,
  levelMoves: _moves,
  layer: _layer,
  ...micMust
} = { ...micStays, ...micFields };
export const mic = object(micMust, { levelBySection, levelMoves, layer });

/** Fields of a bus that can be set. */
export const busFields = {
  name: text(60, 1),
  piece: orNull(piece),
  level,
  levelBySection,
  levelMoves,
  pan: within(-100, 100, "%"),
  width: param(widthParam),
  muted: flag,
  soloed: flag,
  output: id,
};
const { levelBySection: _may, levelMoves: _also, ...busMust } = busFields;
export const bus = object(
  { ...busMust, id, kind: oneOf(busKinds), chain: busChain, sends, output: optionalId },
  { levelBySection, levelMoves },
);
