import { DynamicEq, dynamicEqParams } from "./dynamicEq";
import { declare } from "../../processor";
import { DynamicEqLanes } from "./lanes";

export const dynamicEq = declare({
  type: "dynamicEq",
  label: "Dynamic EQ",
  help: "Up to eight shelves or bells that strokes or levels move: bleed stays down between strokes, or a ring is tamed.",
  params: dynamicEqParams,
  step: "clean",
  place: "free",
  purpose: "clean",
  listens: true,
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: null },
  main: [],
  lively: { lowShape: "low shelf", highShape: "high shelf" },
  create: () => new DynamicEq(),
  lanes: (format) => new DynamicEqLanes(format),
});
