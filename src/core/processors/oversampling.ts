import { choice } from "../params";
import { oversamplings } from "../signal/oversampledBend";

/** Parameters of whatever bends. */
export const oversamplingParams = {
  oversampling: choice(
    "Oversampling",
    oversamplings,
    "Multiple of the rate at which it bends; more leaves fewer aliases. Steep: open to 23 instead of 19.5 kHz, twice the work.",
  ),
  rendering: choice(
    "When rendering",
    ["as it plays", "8 times"],
    "Files that are written may be made with more than is heard while it plays.",
  ),
} as const;

/** Values with which something that bends is rendered. Pure. */
export const renderedOversampling = <V extends { oversampling?: unknown; rendering?: unknown }>(v: V): V =>
  v.rendering === "8 times" ? { ...v, oversampling: "8 times" } : v;
