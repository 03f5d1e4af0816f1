import { Pan, panParams } from "./pan";
import { declare, type Processor } from "../../processor";

export const pan = declare({
  type: "pan",
  label: "Pan",
  help: "Places a mic between left and right.",
  params: panParams,
  step: "blend",
  place: "last",
  purpose: "place",
  widens: true,
  alwaysOn: true,
  keeps: "place",
  main: ["position"],
  lively: { position: 30 },
  create: () => new Pan() as Processor,
});
