import { declare, type Processor } from "../../processor";
import { Width, widthParams } from "./width";

export const width = declare({
  type: "width",
  label: "Width and place",
  help: "Levels of mid and side, mono below a frequency, the picture turned or its sides swapped; for pairs and buses.",
  params: widthParams,
  step: "blend",
  place: "free",
  purpose: "place",
  picture: { over: "sides", below: "monoBelow" },
  main: ["width", "monoBelow", "rotate", "swap"],
  lively: { width: 150, monoBelow: 120 },
  create: () => new Width() as unknown as Processor,
});
