import { LowHarmonicsLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { LowHarmonics, lowHarmonicsParams } from "./lowHarmonics";

export const lowHarmonics = declare({
  type: "lowHarmonics",
  label: "Low harmonics",
  help: "Makes harmonics of a low fundamental, so that small speakers let it be heard.",
  params: lowHarmonicsParams,
  step: "shape",
  place: "free",
  purpose: "colour",
  picture: { over: "strokes", shows: "peaks", level: null, small: true },
  takes: { fundamental: "frequency" },
  main: ["frequency", "second", "third", "fourth", "fifth", "fundamental"],
  lively: { fifth: -12, fundamental: -6 },
  transparent: { second: -60, third: -60, fourth: -60 },
  create: () => new LowHarmonics() as unknown as Processor,
  lanes: (format) => new LowHarmonicsLanes(format),
});
