import type { Unit } from "../../core/params";
import { speedOfSound } from "../../core/signal/sound";
import type { Place } from "../../core/song/song";

export const signed = (value: number, digits: number): string => {
  const text = Math.abs(value).toFixed(digits);
  return `${Number(text) === 0 ? "±" : value > 0 ? "+" : "−"}${text}`;
};
export const decibels = (value: number, digits = 1): string =>
  value < -119 ? "−∞" : value.toFixed(digits).replace("-", "−");

/** An instant to the millisecond. */
export const secondsOf = (seconds: number): string => `${seconds.toFixed(3)} s`;

/** m:ss.t */
export const clock = (seconds: number): string => {
  const tenths = Math.max(0, Math.round(seconds * 10));
  return `${Math.floor(tenths / 600)}:${String(Math.floor((tenths % 600) / 10)).padStart(2, "0")}.${tenths % 10}`;
};
/** Size of a file or of several, in MB; of small ones in kB. */
export const fileSize = (bytes: number): string =>
  bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

export const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;

/** Value of a parameter with its unit, in the size people use. */
export function withUnit(value: number, unit: Unit): string {
  const trimmed = (x: number, digits: number) => String(Number(x.toFixed(digits))).replace("-", "−");
  if (unit === "s")
    return value < 1 ? `${trimmed(1000 * value, value < 0.01 ? 2 : 1)} ms` : `${trimmed(value, 2)} s`;
  if (unit === "Hz") return value >= 1000 ? `${trimmed(value / 1000, 2)} kHz` : `${trimmed(value, 1)} Hz`;
  if (unit === ":1") return `${trimmed(value, 2)}:1`;
  if (unit === "Q") return `Q ${trimmed(value, 2)}`;
  if (unit === "smp") return `${trimmed(value, 2)} smp`;
  return `${trimmed(value, 1)}${unit === "" ? "" : ` ${unit}`}`;
}

/**
 * Reads what somebody typed for a parameter: a bare number in its unit, or with ms, s, Hz, kHz, cm, m, smp, dB, %.
 * Returns null when it cannot be read. `sampleRate` turns times and distances into frames and back.
 */
export function readTyped(text: string, unit: Unit, sampleRate: number): number | null {
  const match = /^\s*([+-]?[\d.,]+)\s*(ms|s|khz|k|hz|cm|m|smp|db|%|:1)?\s*$/i.exec(text.replace("−", "-"));
  if (!match) return null;
  const value = Number(match[1]!.replace(",", "."));
  const given = match[2]?.toLowerCase();
  if (!Number.isFinite(value)) return null;
  if (unit === "s")
    return given === "s" ? value : given === undefined || given === "ms" ? value / 1000 : null;
  if (unit === "Hz") return given === "khz" || given === "k" ? value * 1000 : value;
  if (unit === "smp") {
    if (given === "ms") return (value * sampleRate) / 1000;
    if (given === "s") return value * sampleRate;
    if (given === "cm") return (value / 100 / speedOfSound) * sampleRate;
    if (given === "m") return (value / speedOfSound) * sampleRate;
  }
  return value;
}

export const framesToCm = (frames: number, sampleRate: number): number =>
  (100 * frames * speedOfSound) / sampleRate;

export const placeNames: Record<Place, string> = {
  in: "in",
  out: "out",
  sub: "sub",
  top: "top",
  bottom: "bottom",
  side: "side",
  left: "left",
  right: "right",
  pair: "pair",
  close: "close",
  trigger: "trigger",
};
/** A share in whole per cent. */
export const percent = (share: number): string => `${Math.round(100 * share)} %`;
/** Name of a file without its ending. */
export const shortName = (file: string): string => file.replace(/\.[A-Za-z0-9]{2,4}$/, "");
