import { declare, type Processor } from "../../processor";
import { RecordedSpace, recordedSpaceParams } from "./recordedSpace";

export const recordedSpace = declare({
  type: "recordedSpace",
  label: "Recorded space",
  help: "Answers with an impulse response of your own, a file of the song that is labelled as one.",
  params: recordedSpaceParams,
  step: "blend",
  place: "free",
  purpose: "space",
  widens: true,
  responds: true,
  transparent: { mix: 0 },
  main: ["level", "predelay", "lowCut", "highCut", "width", "mix"],
  lively: { predelay: 0.01, lowCut: 100, highCut: 8000, width: 60, mix: 70 },
  create: () => new RecordedSpace() as unknown as Processor,
});
