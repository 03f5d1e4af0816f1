import { completing, type Json } from "./step";

const band = (n: number): Json =>
  Object.fromEntries(
    Object.entries({ knee: 6, hold: 0, range: 100, mix: 100, detector: "peak", releases: "even" }).map(
      ([name, value]) => [`${name}${n}`, value],
    ),
  );

/**
 * Compressors look ahead and work on mid or side; attack and sustain goes by band; bands of the band compressor have a whole
 * detector; reverbs have walls, a width and a gate; pans have a law.
 */
export const from7 = completing({
  compressor: { lookahead: 0, side: "both" },
  transient: { bands: "1", cross1: 200, cross2: 3000, attack2: 0, sustain2: 0, attack3: 0, sustain3: 0 },
  bandCompressor: { ...band(1), ...band(2), ...band(3), ...band(4) },
  harmonics: { toneBefore: 0 },
  reverb: {
    lowDecay: 100,
    width: 100,
    early: -60,
    roomWidth: 7,
    roomDepth: 9,
    roomHeight: 3.2,
    distance: 3,
    tailGate: "off",
    tailThreshold: -30,
    tailHold: 0.25,
    tailRelease: 0.03,
  },
  pan: { law: "-3 dB" },
});
