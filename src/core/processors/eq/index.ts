import { designEqPlaces, Eq, eqParams, eqPlaces } from "./eq";
import { declare } from "../../processor";
import { SectionLanes } from "../../lanes/sectionLanes";

export const eq = declare({
  type: "eq",
  label: "EQ",
  help: "High- and low-pass, two shelves and four bells.",
  params: eqParams,
  step: "shape",
  place: "free",
  purpose: "tone",
  picture: { over: "frequency" },
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
  lively: { bell1Gain: 6, highShelfGain: -4, lowShelfGain: 3 },
  create: () => new Eq(),
  lanes: (format) => new SectionLanes(format, eqPlaces, designEqPlaces),
});
