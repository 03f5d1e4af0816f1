import { carried, changed, each, type FormatStep, type Json } from "./step";

const cut = (e: Json): Json => ({ likeness: 1, jumpDb: null, ...e });
const cuts = (edits: unknown): unknown => each(edits, cut);
const strokes = (hits: unknown): unknown => each(hits, (h) => ({ kind: "stroke", ...h }));
const tempo = (value: unknown): unknown =>
  value && { compound: false, pickUp: 0, meters: [], follows: false, ...(value as Json) };
const tighten = (value: unknown): unknown => ({
  strength: 0,
  grid: "1/16",
  swing: 0.5,
  window: 0.003,
  largest: 0.04,
  leaders: ["kick", "snare", "tom1", "tom2", "tom3", "floor"],
  keepLean: false,
  between: "nearest",
  byPiece: {},
  bySection: {},
  locked: [],
  left: [],
  alone: [],
  ...(value as Json),
});
const own = (mic: Json): Json => ({ ...mic, ownEdits: cuts(mic["ownEdits"] ?? []) });
const fields = (values: Json): Json =>
  changed(
    changed(changed(changed(values, "hits", strokes), "tempo", tempo), "tighten", tighten),
    "edits",
    cuts,
  );

/** Strokes got kinds and corrections, the tempo meters, tightening its finer settings; mics may be cut alone. */
export const from3: FormatStep = {
  song: (song) => ({
    detection: { sensitivity: {}, corrections: [] },
    ...fields(song),
    mics: each(song["mics"], own),
  }),
  operation: carried(own, fields),
};
