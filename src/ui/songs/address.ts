import { steps, type Song, type Step } from "../../core/song/song";

/** What of the view of a song stands in the address: where a link, a reload and the way back come to. */
export interface Place {
  readonly step: Step;
  /** Mic or bus on the bench, by id. */
  readonly mic: string | null;
  readonly bus: string | null;
}

/** The part of the address behind the song. Pure. */
export function addressOf({ step, mic, bus }: Place): string {
  const query = new URLSearchParams({ step });
  if (bus !== null) query.set("bus", bus);
  else if (mic !== null) query.set("mic", mic);
  return `?${query.toString()}`;
}

/** The place that an address names; null: none. What is not in the song is left out. Pure. */
export function placeIn(search: string, { mics, buses }: Pick<Song, "mics" | "buses">): Place | null {
  const query = new URLSearchParams(search);
  const step = steps.find((s) => s === query.get("step"));
  if (!step) return null;
  const named = (name: string, list: readonly { id: string }[]) =>
    list.find(({ id }) => id === query.get(name))?.id ?? null;
  return { step, mic: named("mic", mics), bus: named("bus", buses) };
}
