import { processorOf } from "../song/create";
import type { Operation } from "../song/operations";
import type { LayerShift } from "../song/song";
import { layerLimits, type LayerMic } from "../song/layer";
import type { LayerAlignment } from "./alignLayer";

/** Strokes nearer to each other than this are one, s. */
const sameStroke = 0.003;

/**
 * The change that plays a layer where it was measured to add up with the drum's mic: every stroke in its place, and all turned over where that
 * is better.
 * Shape  alignment: of the layer as it plays by now.
 */
export function takePhase(mic: LayerMic, { polarity, strokes }: LayerAlignment): Operation {
  const before = (time: number) =>
    mic.layer.shifts.find((s) => Math.abs(s.time - time) <= sameStroke)?.frames ?? 0;
  const within = (frames: number) =>
    Math.max(-layerLimits.shiftFrames, Math.min(layerLimits.shiftFrames, frames));
  const shifts = strokes.map(({ time, frames }): LayerShift => ({
    time,
    frames: within(before(time) + frames),
  }));
  const layer: Operation = { op: "setMic", mic: mic.id, values: { layer: { ...mic.layer, shifts } } };
  if (polarity === 1) return layer;
  const turned = processorOf(mic, "polarity");
  const other = turned.params["polarity"] === "inverted" ? "as recorded" : "inverted";
  return { op: "several", operations: [layer, { op: "setProcessor", owner: mic.id, processor: turned.id, params: { polarity: other } }] }; // prettier-ignore
}
