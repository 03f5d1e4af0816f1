import { declare, type Processor } from "../../processor";
import { RingTamer, ringTamerParams } from "./ringTamer";

export const ringTamer = declare({
  type: "ringTamer",
  label: "Ring tamer",
  help: "Lets one partial of a drum die faster behind every stroke; its attack stays.",
  params: ringTamerParams,
  step: "shape",
  place: "free",
  purpose: "tone",
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: null, ring: "frequency" },
  takes: { ring: "frequency", ringT60: "found" },
  main: ["frequency", "found", "wanted", "depth", "width"],
  lively: { found: 2, wanted: 0.05 },
  transparent: { depth: 0 },
  create: () => new RingTamer() as unknown as Processor,
});
