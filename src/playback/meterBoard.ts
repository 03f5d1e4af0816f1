import { limits } from "../core/song/limits";

/** Processors whose gain reduction can be watched at a time. */
export const watchedMost = 32;
/** Bands of one processor whose gains can be watched. */
export const bandsMost = 20;

/** Places along one chain whose levels can be watched: before the first processor and behind each. */
export const placesMost = 24;

/** What the worklet tells some ninety times a second, read by the page whenever it draws. */
export interface EngineState {
  /** Song frame that is heard. */
  readonly position: number;
  readonly generation: number;
  readonly playing: boolean;
  /** Falling peak per mic, linear. */
  readonly peaks: readonly number[];
  /** Falling peak per bus of the song behind its fader, linear. */
  readonly busPeaks: readonly number[];
  /** Momentary and short-term loudness of the kit, LUFS. */
  readonly momentary: number;
  readonly shortTerm: number;
  /** Falling true peak of the kit, and its largest since play began, linear. */
  readonly truePeak: number;
  readonly truePeakMost: number;
  /** Between left and right, -1..1. */
  readonly correlation: number;
  /** Gain in dB by which the other side of a comparison is moved. */
  readonly matchDb: number;
  /** True once both sides were heard long enough to be matched. */
  readonly measured: boolean;
  /** Gain reduction of the watched processors, dB, in their order. */
  readonly reductions: readonly number[];
  /** Gains of the bands of one watched processor, dB; NaN: off or none. */
  readonly bands: readonly number[];
  /** Along the watched chain, before the first processor in lanes and behind each: held peak and mean level, dBFS. */
  readonly chainLevels: readonly { readonly peakDb: number; readonly levelDb: number }[];
  /** Times that playback ran dry in the middle of sound, since opening. */
  readonly starved: number;
}

const fields = [
  "position",
  "generation",
  "playing",
  "momentary",
  "shortTerm",
  "truePeak",
  "truePeakMost",
  "correlation",
  "matchDb",
  "measured",
  "starved",
  "chainPlaces",
] as const;
type Field = (typeof fields)[number];
const places = Object.fromEntries(fields.map((f, i) => [f, i])) as Record<Field, number>;
const reductionsFrom = fields.length;
const bandsFrom = reductionsFrom + watchedMost;
const levelsFrom = bandsFrom + bandsMost;
const busesFrom = levelsFrom + 2 * placesMost;
const peaksFrom = busesFrom + limits.buses;

/** Shared memory for the meters of a song with so many mics. */
export const allocateBoard = (mics: number): SharedArrayBuffer =>
  new SharedArrayBuffer(8 * (peaksFrom + mics));

/** Share of the way of a mean power in one report: about half a second. */
const smoothing = 0.02;

/**
 * Meters on their way from the worklet to the page without messages: the worklet writes numbers, the page reads them
 * when it draws, so that neither waits for the other and a slow page costs the audio thread nothing.
 */
export class MeterBoard {
  private readonly values: Float64Array;
  constructor(memory: SharedArrayBuffer) {
    this.values = new Float64Array(memory);
  }
  put(field: Field, value: number): void {
    this.values[places[field]] = value;
  }
  get(field: Field): number {
    return this.values[places[field]]!;
  }
  putReduction(index: number, db: number): void {
    this.values[reductionsFrom + index] = db;
  }
  /** Shape  `bandsMost` gains. */
  putBands(gains: Float64Array): void {
    this.values.set(gains, bandsFrom);
  }
  /** Peak (linear) and mean power at every place; peaks are held and fall, powers are smoothed. */
  putLevels(levels: Float64Array, places: number, fall: number): void {
    const fresh = this.get("chainPlaces") !== places;
    this.put("chainPlaces", places);
    for (let p = 0; p < Math.min(places, placesMost); p++) {
      const at = levelsFrom + 2 * p;
      const power = levels[2 * p + 1]!;
      this.values[at] = Math.max(levels[2 * p]!, fresh ? 0 : fall * this.values[at]!);
      this.values[at + 1] = fresh ? power : this.values[at + 1]! + smoothing * (power - this.values[at + 1]!);
    }
  }
  private levelsNow(): EngineState["chainLevels"] {
    const places = Math.min(placesMost, this.get("chainPlaces"));
    return Array.from({ length: places }, (_, p) => ({
      peakDb: 20 * Math.log10(Math.max(1e-9, this.values[levelsFrom + 2 * p]!)),
      levelDb: 10 * Math.log10(Math.max(1e-18, this.values[levelsFrom + 2 * p + 1]!)),
    }));
  }
  /** Raises a bus's peak, as putPeak. */
  putBusPeak(bus: number, peak: number, fall: number): void {
    const at = busesFrom + bus;
    this.values[at] = Math.max(peak, fall * this.values[at]!);
  }
  /** Raises a mic's peak, which falls by `fall` a report. */
  putPeak(mic: number, peak: number, fall: number): void {
    const at = peaksFrom + mic;
    this.values[at] = Math.max(peak, fall * this.values[at]!);
  }
  read(watched: number): EngineState {
    const get = (field: Field) => this.values[places[field]]!;
    return {
      position: get("position"),
      generation: get("generation"),
      playing: get("playing") === 1,
      peaks: Array.from(this.values.subarray(peaksFrom)),
      busPeaks: Array.from(this.values.subarray(busesFrom, peaksFrom)),
      momentary: get("momentary"),
      shortTerm: get("shortTerm"),
      truePeak: get("truePeak"),
      truePeakMost: get("truePeakMost"),
      correlation: get("correlation"),
      matchDb: get("matchDb"),
      measured: get("measured") === 1,
      reductions: Array.from(this.values.subarray(reductionsFrom, reductionsFrom + watched)),
      bands: Array.from(this.values.subarray(bandsFrom, levelsFrom)),
      chainLevels: this.levelsNow(),
      starved: get("starved"),
    };
  }
}
