import { Delay, delayParams } from "./delay";
import { declare, type Processor } from "../../processor";
import { DelayLanes } from "./lanes";

export const delay = declare({
  type: "delay",
  label: "Delay",
  help: "Moves a mic in time, to a fraction of a frame.",
  params: delayParams,
  step: "align",
  place: "first",
  purpose: "place",
  alwaysOn: true,
  keeps: "phase",
  main: ["delay"],
  lively: { delay: 12.4 },
  create: () => new Delay() as Processor,
  lanes: (format) => new DelayLanes(format),
});
