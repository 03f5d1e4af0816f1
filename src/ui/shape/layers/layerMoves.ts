import type { AnyValues } from "../../../core/params";
import { processorOf } from "../../../core/song/create";
import type { Layer, LayerMic } from "../../../core/song/song";
import type { Operation } from "../../../core/song/operations";
import { shortName } from "../../shared/format";
import { useSong } from "../../shared/songStore";

/** Sets something of a layer: heard while a gesture goes on, stored when it is done. */
export function setLayer(mic: LayerMic, values: Partial<Layer>, done = true): void {
  const { change, preview } = useSong.getState();
  const operation: Operation = {
    op: "setMic",
    mic: mic.id,
    values: { layer: { ...mic.layer, ...values } },
  };
  if (done) change(`${shortName(mic.file)}`, operation);
  else preview(operation);
}

/** Parts of its sound that a layer may be left, each by the passes of its EQ, Hz. */
export const parts: readonly { readonly id: string; readonly label: string; readonly eq: AnyValues }[] = [
  { id: "whole", label: "Whole", eq: { highPassSlope: "off", lowPassSlope: "off" } },
  {
    id: "low",
    label: "Low end",
    eq: { highPassSlope: "off", lowPassSlope: "24", lowPassFrequency: 150 },
  },
  {
    id: "body",
    label: "Body",
    eq: { highPassSlope: "24", highPassFrequency: 150, lowPassSlope: "24", lowPassFrequency: 2000 },
  },
  {
    id: "stick",
    label: "Stick and air",
    eq: { highPassSlope: "24", highPassFrequency: 2000, lowPassSlope: "off" },
  },
];

/** The part that a layer's EQ leaves it by now; null: another one. */
export function partOf(mic: LayerMic): string | null {
  const { on, params } = processorOf(mic, "eq");
  if (!on) return "whole";
  return parts.find(({ eq }) => Object.entries(eq).every(([name, v]) => params[name] === v))?.id ?? null;
}

/** Leaves a layer one part of its sound. */
export function leavePart(mic: LayerMic, id: string): void {
  const { eq, label } = parts.find((p) => p.id === id)!;
  useSong.getState().change(`${shortName(mic.file)}: ${label.toLowerCase()}`, {
    op: "setProcessor",
    owner: mic.id,
    processor: processorOf(mic, "eq").id,
    on: true,
    params: eq,
  });
}
