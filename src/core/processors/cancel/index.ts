import { CancelAlone, cancelParams } from "./cancel";
import { declare } from "../../processor";

export const cancel = declare({
  type: "cancel",
  label: "Cancel",
  help: "Takes the other drums out of a mic by what all mics of the kit hear at the same instant. Needs the kit: a mic on its own passes unchanged.",
  params: cancelParams,
  step: "clean",
  place: "first",
  purpose: "clean",
  meters: true,
  main: ["strength", "range", "smooth"],
  lively: {},
  create: () => new CancelAlone(),
});
