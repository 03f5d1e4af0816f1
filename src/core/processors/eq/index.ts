import { bandWorks, bellCount, Eq, eqParams, shownBells } from "./eq";
import { declare } from "../../processor";
import { EqLanes } from "./lanes";

export const eq = declare({
  type: "eq",
  label: "EQ",
  help: "High- and low-pass, two shelves and twelve bands of any shape, at their own frequency or tied to the drum's.",
  params: eqParams,
  step: "shape",
  place: "free",
  purpose: "tone",
  picture: { over: "frequency" },
  takes: { fundamental: "fundamental" },
  main: [
    "highPassSlope",
    "highPassFrequency",
    "bell1Frequency",
    "bell1Gain",
    "bell2Frequency",
    "bell2Gain",
    "bell4Frequency",
    "bell4Gain",
  ],
  idle: (values) =>
    Array.from({ length: bellCount - shownBells }, (_, i) => i + shownBells + 1)
      .filter((n) => !bandWorks(values, n))
      .flatMap((n) => Object.keys(eqParams).filter((name) => name.match(/\d+/)?.[0] === String(n))),
  lively: {
    bell1Gain: 6,
    highShelfGain: -4,
    lowShelfGain: 3,
    lowShelfDip: 2,
    bell5Shape: "notch",
    hear: "all",
  },
  create: () => new Eq(),
  lanes: (format) => new EqLanes(format),
});
