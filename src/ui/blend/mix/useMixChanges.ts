import { isMic, type Owner } from "../../../core/song/graph";
import type { Operation } from "../../../core/song/operations";
import type { Mic } from "../../../core/song/song";
import { ownerName } from "../../shared/ProcessorPanel";
import { useSection } from "../../shared/sectionChoice";
import { useSong } from "../../shared/songStore";
import { useMoves } from "../moves/moveStore";
import { rideLevel } from "../moves/writeMoves";
import { setOwner } from "../routing";
import { faderIn, fadersTogether, pansTogether, switchedTogether } from "../together";
import type { useTogether } from "../useTogether";
import type { Heard } from "./mixFields";

/** What an edit is called in the history. */
const what = (values: object): string => String(Object.keys(values)[0]);

/** Faders, pans and switches of the table, and of what was chosen with one of them; in a section where one is chosen. */
export function useMixChanges(together: ReturnType<typeof useTogether>["together"]) {
  const section = useSection();
  const ridden = useMoves((s) => s.ridden);
  const song = useSong((s) => s.song!);
  const { change, preview } = useSong.getState();
  const levelOf = (o: Owner): number => (ridden?.id === o.id ? ridden.level : faderIn(o, section));
  const put = (name: string, o: Owner, all: readonly Owner[], operation: Operation, done: boolean) => {
    const where = section === null ? name : `${name} in a section`;
    const whose = all.length === 1 ? ownerName(o) : `${all.length} mics and buses`;
    if (done) change(`${where} of ${whose}`, operation);
    else preview(operation);
  };
  return {
    section,
    levelOf,
    /** Puts a fader, and by as much those that were chosen with it. */
    setLevel(o: Owner, level: number, done: boolean): void {
      const all = together(song, o);
      if (all.length === 1 && rideLevel(o, levelOf(o), level)) return;
      put("level", o, all, fadersTogether(all, o, level, section), done);
    },
    setPan(mic: Mic, position: number, done: boolean): void {
      const all = together(song, mic).filter(isMic);
      put("pan", mic, all, pansTogether(all, mic, position, section), done);
    },
    setSwitches(o: Owner, values: Heard): void {
      const all = together(song, o);
      if (all.length === 1) change(`${what(values)} of ${ownerName(o)}`, setOwner(o, values));
      else change(`${what(values)} of ${all.length} mics and buses`, switchedTogether(all, values));
    },
  };
}
export type MixChanges = ReturnType<typeof useMixChanges>;
