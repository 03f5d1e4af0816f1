import { number } from "../params";
import { designButterworth, type Section } from "../signal/biquad";

/** Ends at which the detector's filters are open, Hz. */
const [lowest, highest] = [20, 20000];

/** What a detector hears, as parameters. Shape: up to where its high-pass, and down to where its low-pass can be set, Hz. */
export const detectorBand = (highPassTo: number, lowPassFrom: number) => ({
  highPass: number(
    "Detector high-pass",
    "Hz",
    lowest,
    highPassTo,
    lowest,
    "The detector hears only what lies above.",
    "log",
  ),
  lowPass: number(
    "Detector low-pass",
    "Hz",
    lowPassFrom,
    highest,
    highest,
    "The detector hears only what lies below.",
    "log",
  ),
});

/** Its filters, 12 dB per octave each; none where they are open. At most two sections. */
export const detectorSections = (v: { highPass: number; lowPass: number }, rate: number): Section[] => [
  ...(v.highPass > lowest ? designButterworth("high", v.highPass, 2, rate) : []),
  ...(v.lowPass < highest ? designButterworth("low", v.lowPass, 2, rate) : []),
];
