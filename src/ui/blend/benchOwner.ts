import { kitOf, ownerOf, type Owner } from "../../core/song/graph";
import { useSong } from "../shared/songStore";

/** The mic or bus on Blend's bench: the chosen bus, else the chosen mic, else the kit. */
export function useBenchOwner(): Owner {
  const song = useSong((s) => s.song!);
  const bus = useSong((s) => s.bus);
  const mic = useSong((s) => s.mic);
  return ownerOf(song, bus) ?? ownerOf(song, mic) ?? kitOf(song);
}
