import type { Tone } from "../../core/facts/facts";
import { isMic, type Owner } from "../../core/song/graph";
import { mainMic } from "../../core/song/song";
import { useSong } from "./songStore";

/** Colour of a mic or bus in pictures: its drum's, or that of everything else. */
export const colorOf = ({ piece }: Owner): string => piece?.replace(/\d/, "") ?? "accent";

/** What was found of the drum's own sound: of a bus that of its drum's main mic. */
export const useTone = (owner: Owner): Tone | undefined =>
  useSong(({ facts, song }) => {
    if (isMic(owner)) return facts.tone[owner.id];
    const main = owner.piece && mainMic(song!.mics, owner.piece);
    return main ? facts.tone[main.id] : undefined;
  });
