import type { Operation } from "../operations";
import type { ProcessorState, Song } from "../song";
import { from1 } from "./from1";
import { from2 } from "./from2";
import { from3 } from "./from3";
import { from4 } from "./from4";
import { from5 } from "./from5";
import { from6 } from "./from6";
import { from7 } from "./from7";
import { from8 } from "./from8";
import type { FormatStep, Json } from "./step";

/** Steps from one format to the next, the first from format 1. */
const steps: readonly FormatStep[] = [from1, from2, from3, from4, from5, from6, from7, from8];
/** The format that this program writes. */
export const newestFormat = steps.length + 1;

const stepsFrom = (format: number): readonly FormatStep[] => steps.slice(Math.max(0, format - 1));

/** A stored document in the newest format; one of an unknown format as it is. */
export function upgradeSong(json: object): Song {
  const document = json as Json;
  const format = document["formatVersion"];
  if (typeof format !== "number" || !Number.isInteger(format) || format < 1 || format >= newestFormat)
    return document as unknown as Song;
  const song = stepsFrom(format).reduce<Json>((now, step) => step.song(now), document);
  return { ...song, formatVersion: newestFormat } as unknown as Song;
}

function takeStep(step: FormatStep, o: Json): Json {
  if (o["op"] !== "several") return step.operation(o);
  return { ...o, operations: (o["operations"] as Json[]).map((one) => takeStep(step, one)) };
}

/** An operation that was stored with a format, as today's songs take it: histories outlive upgrades. */
export const upgradeOperation = (operation: object, format: number): Operation =>
  stepsFrom(format).reduce<Json>(
    (now, step) => takeStep(step, now),
    operation as Json,
  ) as unknown as Operation;

/** A chain that was kept with a format, apart from any song, in the newest one. */
export function upgradeChain(chain: readonly object[], format: number): ProcessorState[] {
  const upgraded = upgradeOperation({ op: "setChain", owner: "", chain }, format);
  if (upgraded.op !== "setChain") throw new TypeError("the upgrade of a kept chain gave something else");
  return [...upgraded.chain];
}
