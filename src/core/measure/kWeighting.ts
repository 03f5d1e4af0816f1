import type { Section } from "../signal/biquad";

/**
 * The two K-weighting filters at any sample rate.
 * Source  ITU-R BS.1770-5, annex 1, tables 1 and 2 give the coefficients at 48 kHz; the analogue values behind them
 *         (f0, gain, Q) follow by inverting the bilinear transform and are used for the other rates.
 * Checked kWeighting.test.ts: tables 1 and 2 to 1e-6 at 48 kHz.
 */
export function designKWeighting(sampleRate: number): [Section, Section] {
  const k1 = Math.tan((Math.PI * 1681.974450955533) / sampleRate);
  const q1 = 0.7071752369554196;
  const vh = Math.pow(10, 3.999843853973347 / 20);
  const vb = Math.pow(vh, 0.4996667741545416);
  const d1 = 1 + k1 / q1 + k1 * k1;
  const k2 = Math.tan((Math.PI * 38.13547087602444) / sampleRate);
  const q2 = 0.5003270373238773;
  const d2 = 1 + k2 / q2 + k2 * k2;
  return [
    {
      b0: (vh + (vb * k1) / q1 + k1 * k1) / d1,
      b1: (2 * (k1 * k1 - vh)) / d1,
      b2: (vh - (vb * k1) / q1 + k1 * k1) / d1,
      a1: (2 * (k1 * k1 - 1)) / d1,
      a2: (1 - k1 / q1 + k1 * k1) / d1,
    },
    { b0: 1, b1: -2, b2: 1, a1: (2 * (k2 * k2 - 1)) / d2, a2: (1 - k2 / q2 + k2 * k2) / d2 },
  ];
}
