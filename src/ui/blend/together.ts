import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { processorOf } from "../../core/song/create";
import { isMic, type Owner } from "../../core/song/graph";
import { levelParam } from "../../core/song/limits";
import type { Operation } from "../../core/song/operations";
import { setParams, valuesIn } from "../../core/song/setParams";
import type { Mic } from "../../core/song/song";
import { setOwner, type OwnerValues } from "./routing";

/** The fader of a mic or bus in a section, or in the whole song, dB. */
export const faderIn = (o: Owner, section: string | null): number =>
  (section === null ? undefined : o.levelBySection?.[section]) ?? o.level;

/** What sets that fader. */
export const faderValues = (o: Owner, level: number, section: string | null): OwnerValues =>
  section === null ? { level } : { levelBySection: { ...o.levelBySection, [section]: level } };

/** One fader put somewhere, and all that were chosen with it by as much; each within its range. */
export function fadersTogether(
  owners: readonly Owner[],
  moved: Owner,
  level: number,
  section: string | null,
): Operation {
  const by = level - faderIn(moved, section);
  const within = (db: number) => Math.round(10 * Math.min(levelParam.max, Math.max(levelParam.min, db))) / 10;
  return {
    op: "several",
    operations: owners.map((o) => {
      const to = o.id === moved.id ? level : within(faderIn(o, section) + by);
      return setOwner(o, faderValues(o, to, section));
    }),
  };
}

export const panParam = processorType("pan").params["position"] as NumberParam;

/** Where a mic stands in a section, or in the whole song, %. */
export const panIn = (mic: Mic, section: string | null): number =>
  valuesIn(processorOf(mic, "pan"), section)["position"] as number;

/** One mic placed somewhere, and all mics that were chosen with it by as much; each within its range. Buses stay. */
export function pansTogether(
  owners: readonly Owner[],
  moved: Mic,
  position: number,
  section: string | null,
): Operation {
  const by = position - panIn(moved, section);
  const within = (p: number) => Math.round(Math.min(panParam.max, Math.max(panParam.min, p)));
  return {
    op: "several",
    operations: owners
      .filter(isMic)
      .map((m) => setParams(m, processorOf(m, "pan"), { position: within(panIn(m, section) + by) }, section)),
  };
}

/** The same switched for all that were chosen together, but for the kit, which is always on. */
export const switchedTogether = (
  owners: readonly Owner[],
  values: { readonly muted?: boolean; readonly soloed?: boolean },
): Operation => ({
  op: "several",
  operations: owners.filter((o) => o.output !== null).map((o) => setOwner(o, values)),
});

/** Rows between two, both included, as they stand. */
export function rowsBetween(rows: readonly { readonly owner: Owner }[], a: string, b: string): string[] {
  const [i, k] = [a, b].map((id) => rows.findIndex((r) => r.owner.id === id)).sort((x, y) => x - y);
  return i! < 0 ? [b] : rows.slice(i!, k! + 1).map((r) => r.owner.id);
}
