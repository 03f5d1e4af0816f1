import { designRotation, Rotation, rotationParams } from "./rotation";
import { declare } from "../../processor";
import { SectionLanes } from "../../lanes/sectionLanes";

export const rotation = declare({
  type: "rotation",
  label: "Phase rotation",
  help: "Turns the phase around a frequency and leaves all levels: for mics that no delay brings together everywhere.",
  params: rotationParams,
  step: "align",
  place: "first",
  purpose: "place",
  keeps: "phase",
  main: ["frequency", "q"],
  lively: {},
  create: () => new Rotation(),
  lanes: (format) =>
    new SectionLanes(format, 1, (values, sampleRate) => [designRotation(values, sampleRate)]),
});
