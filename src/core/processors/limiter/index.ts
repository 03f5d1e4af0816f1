import { LimiterLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { Limiter, limiterParams } from "./limiter";

export const limiter = declare({
  type: "limiter",
  label: "Limiter",
  help: "Holds true peaks under a ceiling, turning down before they come; the rest passes untouched.",
  params: limiterParams,
  step: "shape",
  place: "free",
  purpose: "dynamics",
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: "ceiling" },
  main: ["ceiling", "release", "lookahead", "input"],
  lively: { ceiling: -12, input: 6 },
  create: () => new Limiter() as unknown as Processor,
  lanes: (format) => new LimiterLanes(format),
});
