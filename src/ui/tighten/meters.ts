import type { Tempo } from "../../core/song/song";

/** Meters by their name; in the ones by eighths a beat is a dotted quarter. */
export const meters: Record<string, { beatsPerBar: number; compound: boolean }> = {
  "2/4": { beatsPerBar: 2, compound: false },
  "3/4": { beatsPerBar: 3, compound: false },
  "4/4": { beatsPerBar: 4, compound: false },
  "5/4": { beatsPerBar: 5, compound: false },
  "7/4": { beatsPerBar: 7, compound: false },
  "6/8": { beatsPerBar: 2, compound: true },
  "9/8": { beatsPerBar: 3, compound: true },
  "12/8": { beatsPerBar: 4, compound: true },
};
export const meterName = (t: { beatsPerBar: number; compound: boolean }): string =>
  t.compound ? `${3 * t.beatsPerBar}/8` : `${t.beatsPerBar}/4`;

/** The meter that holds at an instant. */
export const meterAt = (tempo: Tempo, seconds: number): { beatsPerBar: number; compound: boolean } =>
  tempo.meters.reduce<{ beatsPerBar: number; compound: boolean }>(
    (found, m) => ((tempo.beats[m.beat] ?? Infinity) <= seconds + 1e-3 ? m : found),
    tempo,
  );
