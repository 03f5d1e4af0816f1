import { useRef } from "react";
import { bandFrequency, bandWorks, bellCount, shownBells } from "../../../core/processors/eq/eq";
import type { Owner } from "../../../core/song/graph";
import type { ProcessorState } from "../../../core/song/song";
import type { Handle } from "../../shared/Plot";
import { useParams } from "../../shared/ProcessorPanel";

const limits = { gain: 24, low: 20, high: 20000 };
/** While it is swept a band is narrow and loud; where it is let go it becomes a cut. */
const swept = { gain: 12, q: 9 };
const sweptCut = { gain: -6, q: 4 };
/** Where the grip for sweeping waits, Hz and dB: beside and under the names of what drums sound and ring at. */
const waits = { x: 12000, y: -10 };
/** Gain with which a band comes in, dB: enough to be seen and heard. */
export const addedGain = 3;

export const frequencyOf = (x: number): number =>
  Math.min(limits.high, Math.max(limits.low, Number(x.toPrecision(3))));
const gainOf = (y: number) => Math.min(limits.gain, Math.max(-limits.gain, Math.round(y * 10) / 10));

/** Settings of one band by their names without the band's. */
export type BandSettings = Record<string, number | string>;
const named = (n: number | undefined, band: BandSettings): BandSettings =>
  Object.fromEntries(Object.entries(band).map(([name, value]) => [`bell${n}${name}`, value]));

/** The bands of an EQ as they are drawn, dragged, added and put at what was found of a drum. */
export function useBands(owner: Owner, state: ProcessorState) {
  const set = useParams(owner, state);
  const v = (name: string) => state.params[name] as number;
  /** A move switches the EQ on. */
  const on = state.on ? undefined : true;
  const all = Array.from({ length: bellCount }, (_, i) => i + 1);
  const shown = all.filter((n) => n <= shownBells || bandWorks(state.params, n));
  const unused = all.find((n) => !shown.includes(n));
  /** Puts a band at a frequency: a tied one at another ratio, so that it stays tied. */
  const placed = (n: number, x: number): BandSettings =>
    v(`bell${n}Ratio`) > 0
      ? { [`bell${n}Ratio`]: Math.min(64, Math.round((100 * frequencyOf(x)) / v("fundamental")) / 100) }
      : { [`bell${n}Frequency`]: frequencyOf(x) };
  const handles = shown.map((n): Handle => ({
    id: `bell${n}`,
    x: bandFrequency(state.params, n),
    y: v(`bell${n}Gain`),
    label: String(n),
    name: `Band ${n}`,
    drag: (x, y, done) => set({ ...placed(n, x), [`bell${n}Gain`]: gainOf(y) }, done, on),
  }));
  // The band that a sweep began with: others do not come in while it moves.
  const sweptBand = useRef<number | null>(null);
  const sweeping = sweptBand.current ?? unused;
  if (sweeping !== undefined)
    handles.push({
      id: "sweep",
      ...(sweptBand.current === null ? waits : { x: v(`bell${sweeping}Frequency`), y: swept.gain }),
      label: "⌕",
      name: "Search by ear",
      color: "warn",
      drag: (x, _, done) => {
        sweptBand.current = done ? null : sweeping;
        const { gain, q } = done ? sweptCut : swept;
        const band = { Frequency: frequencyOf(x), Gain: gain, Q: q, Ratio: 0, Shape: "bell" };
        set(named(sweeping, band), done, on);
      },
    });
  return {
    handles,
    /** One more band can come in. */
    room: unused !== undefined,
    tied: all.some((n) => v(`bell${n}Ratio`) > 0),
    add: () => set({ [`bell${unused}Gain`]: addedGain }, true, on),
    /** Puts a new band at what was found of the drum: a lift tied to its fundamental, or a narrow cut of its ring. */
    put: (band: BandSettings, more: BandSettings = {}) => set({ ...more, ...named(unused, band) }, true, on),
    /** A band works there already. */
    near: (frequency: number) =>
      shown.some(
        (n) =>
          Math.abs(Math.log2(bandFrequency(state.params, n) / frequency)) < 0.08 && v(`bell${n}Gain`) !== 0,
      ),
  };
}
export type Bands = ReturnType<typeof useBands>;
