import { processorOf } from "../song/create";
import type { Operation } from "../song/operations";
import type { LayerMic, LayerShift } from "../song/song";
import type { LayerAlignment } from "./alignLayer";

/**
 * The change that plays a layer where it was measured to add up with the drum's mic: every stroke in its place, all turned over where that
 * is better, and single ones that want the other side.
 */
export function takePhase(mic: LayerMic, { polarity, strokes }: LayerAlignment): Operation {
  const shifts = strokes.map(({ time, frames, turned }): LayerShift =>
    turned ? { time, frames, turned } : { time, frames },
  );
  const layer: Operation = { op: "setMic", mic: mic.id, values: { layer: { ...mic.layer, shifts } } };
  if (polarity === 1) return layer;
  const turned = processorOf(mic, "polarity");
  const other = turned.params["polarity"] === "inverted" ? "as recorded" : "inverted";
  return {
    op: "several",
    operations: [
      layer,
      { op: "setProcessor", owner: mic.id, processor: turned.id, params: { polarity: other } },
    ],
  };
}
