import type { WaysAnswer } from "../../core/clean/judgeWays";
import type { Treatment } from "../../core/facts/treatment";
import { treatmentsOf } from "../../core/clean/treatments";
import { factsNow } from "../../core/facts/factsNow";
import { onThread } from "../analysis/threads";
import { stretchAround } from "./stretchAround";

export interface JudgedCleaning extends WaysAnswer {
  readonly ways: readonly Treatment[];
}

/** Measures what every way to clean a mic of the stored song would do to it. Errors  AppError. */
export async function judgeCleaning(songId: string, mic: string): Promise<JudgedCleaning> {
  const { song, found, facts, from, stretch } = await stretchAround(songId, mic);
  const ways = treatmentsOf(song, found, factsNow(song, facts));
  return { ways, ...(await onThread("ways", { song, mic, ways, from, stretch })) };
}
