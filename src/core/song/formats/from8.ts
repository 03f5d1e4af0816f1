import { completing } from "./step";

const steep = { oversampling: "4 times, steep", rendering: "as it plays" };
const inSeconds = { predelayBy: "seconds" };

/** What bends has an oversampling that is chosen; spaces may wait for a share of a beat. */
export const from8 = completing({
  saturation: steep,
  harmonics: steep,
  reverb: inSeconds,
  recordedSpace: inSeconds,
  shortSpace: inSeconds,
});
