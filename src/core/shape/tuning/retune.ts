import { roomDistance } from "../../align/kitDistance";
import type { Facts } from "../../facts/facts";
import { isChoice, type ParamValue } from "../../params";
import { processorType } from "../../processors";
import { median } from "../../signal/level";
import { tunedTo } from "../../song/chainEdits";
import type { Owner } from "../../song/graph";
import { micOf } from "../heardDrums";
import { firstOf } from "../../song/create";
import type { ProcessorState, Song } from "../../song/song";

/** What of a drum decides values of its chain. */
export interface KnownDrum {
  readonly fundamental: number | undefined;
  readonly ring: number | undefined;
  readonly ringT60: number | undefined;
  /** How far the room mics stand, m; the same for all drums. */
  readonly roomDistance: number | undefined;
  /** Peak of half of its main strokes as they come into the chain, dBFS; undefined: none are known. */
  readonly level: number | undefined;
}

/** One value of a copied chain that fits the other drum. */
export interface Retuning {
  /** Place of the processor among those that are copied. */
  readonly at: number;
  readonly type: string;
  /** Its parameter. */
  readonly name: string;
  readonly from: ParamValue;
  readonly to: ParamValue;
  /** What it follows. */
  readonly follows: "fundamental" | "ring" | "level";
}

/** What is known of a mic's drum; of a bus what is known of its drum's main mic. */
export function knownDrum(song: Song, facts: Facts, owner: Owner): KnownDrum {
  const mic = micOf(song, owner);
  const hits = (mic && facts.levels[mic.id]?.hits) ?? [];
  const trim = (mic && (firstOf(mic, "trim")?.params["gain"] as number | undefined)) ?? 0;
  const tone = mic && facts.tone[mic.id];
  return {
    fundamental: tone?.fundamental,
    ring: tone?.ring,
    ringT60: mic && facts.rings[mic.id]?.found,
    roomDistance: roomDistance(song)?.metres,
    level: hits.length > 0 ? median(hits) + trim : undefined,
  };
}

/** Corners of an EQ that lie so near above the fundamental go along with it: beyond them is the stick, which does not. */
const nearFundamental = 4;
/** Steps in which levels are set, dB. */
const levelStep = 0.5;
/** Differences smaller than these are none: a ratio, and dB. */
const least = { ratio: 0.01, level: 0.5 };

const inRange = (type: string, name: string, value: number): number => {
  const spec = processorType(type).params[name]!;
  return isChoice(spec) ? value : Math.min(spec.max, Math.max(spec.min, value));
};

/** Corners of an EQ that do something at a frequency of their own. */
function cornersOf({ type, params }: ProcessorState): string[] {
  if (type === "bandCompressor") return ["cross1"];
  if (type !== "eq") return [];
  const names: string[] = [];
  if (params["highPassSlope"] !== "off") names.push("highPassFrequency");
  if (params["lowShelfGain"] !== 0) names.push("lowShelfFrequency");
  for (let n = 1; `bell${n}Gain` in params; n++)
    if (params[`bell${n}Gain`] !== 0 && params[`bell${n}Ratio`] === 0) names.push(`bell${n}Frequency`);
  return names;
}

/** Levels at which a processor begins to work; a limiter's and a space's hang on no drum. */
const levelsOf = ({ type, params }: ProcessorState): string[] =>
  type === "limiter" || type === "reverb"
    ? []
    : Object.keys(params).filter((name) => /threshold|ceiling/i.test(name));

function byTone(p: ProcessorState, at: number, source: KnownDrum, target: KnownDrum): Retuning[] {
  const { takes } = processorType(p.type);
  const tied = Object.entries(tunedTo(p.type, { ...target, roomDistance: undefined })).map(
    ([name, to]): Retuning => {
      const figure = Object.entries(takes).find(([, n]) => n === name)![0];
      return {
        at,
        type: p.type,
        name,
        from: p.params[name]!,
        to,
        follows: figure === "fundamental" ? "fundamental" : "ring",
      };
    },
  );
  const { fundamental: was } = source;
  const { fundamental: is } = target;
  if (was === undefined || is === undefined) return tied;
  const moved = cornersOf(p)
    .filter((name) => (p.params[name] as number) < nearFundamental * was)
    .map((name): Retuning => {
      const to = Number((((p.params[name] as number) * is) / was).toPrecision(3));
      return {
        at,
        type: p.type,
        name,
        from: p.params[name]!,
        to: inRange(p.type, name, to),
        follows: "fundamental",
      };
    });
  return [...tied, ...moved];
}

function byLevel(p: ProcessorState, at: number, source: KnownDrum, target: KnownDrum): Retuning[] {
  if (source.level === undefined || target.level === undefined) return [];
  const louder = levelStep * Math.round((target.level - source.level) / levelStep);
  const by = (name: string, db: number): Retuning => {
    const from = p.params[name] as number;
    return { at, type: p.type, name, from, to: inRange(p.type, name, from + db), follows: "level" };
  };
  // Less drive brings a louder drum to the same place of the bend, and the output gives it back.
  if (p.type === "saturation") return [by("drive", -louder), by("output", louder)];
  return levelsOf(p).map((name) => by(name, louder));
}

const differs = ({ from, to, follows }: Retuning): boolean =>
  typeof from !== "number" || typeof to !== "number"
    ? from !== to
    : follows === "level"
      ? Math.abs(to - from) >= least.level
      : Math.abs(to / from - 1) >= least.ratio;

/**
 * What of a chain that was made for one drum should be otherwise on another: frequencies tied to what the drum is, and corners near
 * its fundamental, in the ratio of the fundamentals; thresholds by as much as its strokes are louder.
 */
export const retunings = (
  chain: readonly ProcessorState[],
  source: KnownDrum,
  target: KnownDrum,
): Retuning[] =>
  chain
    .flatMap((p, at) => [...byTone(p, at, source, target), ...byLevel(p, at, source, target)])
    .filter(differs);

/** A chain with some values set otherwise. */
export const retuned = (chain: readonly ProcessorState[], lines: readonly Retuning[]): ProcessorState[] =>
  chain.map((p, at) => {
    const own = lines.filter((l) => l.at === at);
    return own.length === 0
      ? p
      : { ...p, params: { ...p.params, ...Object.fromEntries(own.map((l) => [l.name, l.to])) } };
  });
