/** Level of one channel in the middle, against a side: what a pan law is called by. */
export const panLaws = ["-3 dB", "-4.5 dB", "-6 dB", "0 dB"] as const;
export type PanLaw = (typeof panLaws)[number];

/** Where something stands between left and right. */
export interface PanPlace {
  /** %, left negative. */
  readonly position: number;
  readonly law: PanLaw;
}

/**
 * Gains of left and right at a place. One channel: sine and cosine of the angle for -3 dB, constant power; their square for
 * -6 dB, constant sum; the power between for -4.5 dB; for 0 dB the near side stays whole. Two channels are balanced. Pure.
 * Source  common practice; closed forms in the middle: 2^(-1/2), 2^(-3/4), 1/2, 1.
 */
export function designPan({ position, law }: PanPlace, mono: boolean): [left: number, right: number] {
  const p = position / 100;
  if (!mono || law === "0 dB") return [Math.min(1, 1 - p), Math.min(1, 1 + p)];
  const angle = ((p + 1) * Math.PI) / 4;
  const [left, right] = [Math.cos(angle), Math.sin(angle)];
  if (law === "-3 dB") return [left, right];
  const power = law === "-6 dB" ? 2 : 1.5;
  return [Math.max(0, left) ** power, Math.max(0, right) ** power];
}
