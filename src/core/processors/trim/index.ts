import { Trim, trimParams } from "./trim";
import { declare, type Processor } from "../../processor";
import { GainLanes } from "../../lanes/gainLanes";
import { dbToGain } from "../../signal/level";

export const trim = declare({
  type: "trim",
  label: "Trim",
  help: "Sets the level of a mic first, so that faders start at 0 dB.",
  params: trimParams,
  step: "gather",
  place: "first",
  purpose: "level",
  alwaysOn: true,
  keeps: "level",
  main: ["gain"],
  lively: { gain: -4 },
  create: () => new Trim() as Processor,
  lanes: (format) => new GainLanes(format, (values) => dbToGain(values["gain"] as number)),
});
