import type { Measurement } from "../measure/measureAudio";
import { targets, type Target } from "./delivery";

/** True peak that is not passed on the way to a loudness, dBTP (EBU R 128). */
export const peakCeiling = -1;

/** Gain that brings a kit to its target, and whether its peaks stand in the way. */
export interface TargetGain {
  /** dB. */
  readonly gainDb: number;
  /** dB by which the wanted loudness is missed, since peaks would come over the ceiling; 0: it is reached. */
  readonly shortDb: number;
  /** The kit is limited at the ceiling. */
  readonly limits: boolean;
}

/**
 * Gain alone as far as the peaks let it; to a loudness beyond that by a limiter where one wishes it. Silence stays as it is.
 */
export function gainToTarget(
  kit: Pick<Measurement, "integrated" | "truePeakDb">,
  target: Target,
  limit: boolean,
): TargetGain {
  const { kind, value } = targets[target];
  const nothing = { gainDb: 0, shortDb: 0, limits: false };
  if (kind === "none") return nothing;
  if (kind === "peak")
    return Number.isFinite(kit.truePeakDb) ? { ...nothing, gainDb: value - kit.truePeakDb } : nothing;
  if (!Number.isFinite(kit.integrated)) return nothing;
  const wanted = value - kit.integrated;
  const room = peakCeiling - kit.truePeakDb;
  if (wanted <= room) return { ...nothing, gainDb: wanted };
  return limit
    ? { gainDb: wanted, shortDb: 0, limits: true }
    : { gainDb: room, shortDb: wanted - room, limits: false };
}
