import { Polarity, polarityParams } from "./polarity";
import { declare, type Processor } from "../../processor";
import { GainLanes } from "../../lanes/gainLanes";

export const polarity = declare({
  type: "polarity",
  label: "Polarity",
  help: "Turns a mic over that was recorded upside down.",
  params: polarityParams,
  step: "align",
  place: "first",
  purpose: "place",
  alwaysOn: true,
  keeps: "phase",
  main: ["polarity"],
  lively: { polarity: "inverted" },
  create: () => new Polarity() as unknown as Processor,
  lanes: (format) => new GainLanes(format, (values) => (values["polarity"] === "inverted" ? -1 : 1)),
});
