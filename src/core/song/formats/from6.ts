import { completing, type Json } from "./step";

const band = (n: number, frequency: number): Json =>
  Object.fromEntries(
    Object.entries({ Frequency: frequency, Gain: 0, Q: 1, Shape: "bell", Side: "both", Ratio: 0 }).map(
      ([name, value]) => [`bell${n}${name}`, value],
    ),
  );
const free = (n: number): Json => ({
  [`bell${n}Shape`]: "bell",
  [`bell${n}Side`]: "both",
  [`bell${n}Ratio`]: 0,
});

/** What processors got more of, by type: at these values they are what they were. */
const more: Readonly<Record<string, Json>> = {
  compressor: { range: 100, hold: 0, releases: "even", works: "forward", lowPass: 20000, tilt: 0 },
  reverb: { kind: "room", modulation: 0 },
  eq: {
    lowShelfDip: 0,
    ...free(1),
    ...free(2),
    ...free(3),
    ...free(4),
    ...band(5, 80),
    ...band(6, 300),
    ...band(7, 600),
    ...band(8, 1500),
    ...band(9, 2500),
    ...band(10, 6000),
    ...band(11, 9000),
    ...band(12, 12000),
    fundamental: 100,
    widths: "constant",
    hear: "all",
  },
};
/** Compressors hold, stop at a most reduction, release by the programme and work backwards; EQs have 16 bands of any shape; reverbs are of a kind. */
export const from6 = completing(more);
