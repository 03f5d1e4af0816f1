import { declare, type Processor } from "../../processor";
import { ShortSpace, shortSpaceParams } from "./shortSpace";

export const shortSpace = declare({
  type: "shortSpace",
  label: "Short space",
  help: "A short space that is cut off, swells or dies away: gives back the length that a gate took.",
  params: shortSpaceParams,
  step: "blend",
  place: "free",
  purpose: "space",
  widens: true,
  main: ["shape", "length", "predelay", "highCut", "lowCut", "mix"],
  lively: { shape: "reversed", mix: 60 },
  transparent: { mix: 0 },
  create: () => new ShortSpace() as Processor,
});
