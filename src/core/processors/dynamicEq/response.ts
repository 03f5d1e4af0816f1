import type { AnyValues } from "../../params";
import { dbToGain, powerToDb } from "../../signal/level";
import { dynamicBands } from "./dynamicEq";

/** |H|^2 of one band at a frequency; see the shape in dynamicEq.ts. `gain` is linear. */
function bandPower(
  shape: string,
  gain: number,
  corner: number,
  q: number,
  frequency: number,
  rate: number,
): number {
  if (shape === "off") return 1;
  const a = Math.sqrt(gain);
  // s = j w, with the bilinear transform's warping of both frequencies
  const w =
    Math.tan((Math.PI * frequency) / rate) / Math.tan((Math.PI * Math.min(corner, 0.49 * rate)) / rate);
  const size = (real: number, imaginary: number) => real * real + imaginary * imaginary;
  if (shape === "bell") return size(1 - w * w, (a * w) / q) / size(1 - w * w, w / (a * q));
  const middle = (Math.sqrt(a) * w) / q;
  const rising = size(1 - a * w * w, middle);
  const falling = size(a - w * w, middle);
  return shape === "high shelf" ? (a * a * rising) / falling : (a * a * falling) / rising;
}

/**
 * Response of the dynamic EQ in dB at a frequency in Hz, its bands moved by a share of their range: 0 at rest,
 * 1 opened. Source  closed form of the state-variable filter in dynamicEq.ts.
 */
export function dynamicResponseDb(
  values: AnyValues,
  share: number,
  frequency: number,
  sampleRate: number,
): number {
  const gains = dynamicBands.map(
    (b) => (values[`${b}Gain`] as number) + share * (values[`${b}Range`] as number),
  );
  return movedResponseDb(values, gains, frequency, sampleRate);
}

/** The same with every band at a gain of its own, dB, as they stand while it plays; NaN: off. */
export function movedResponseDb(
  values: AnyValues,
  gainsDb: readonly number[],
  frequency: number,
  sampleRate: number,
): number {
  let power = 1;
  dynamicBands.forEach((band, b) => {
    const v = (key: string) => values[band + key];
    const gain = gainsDb[b]!;
    if (Number.isFinite(gain))
      power *= bandPower(
        v("Shape") as string,
        dbToGain(gain),
        v("Frequency") as number,
        v("Width") as number,
        frequency,
        sampleRate,
      );
  });
  return powerToDb(power);
}
