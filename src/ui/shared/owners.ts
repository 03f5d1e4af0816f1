import type { Tone } from "../../core/facts/facts";
import { toneOf } from "../../core/shape/heardDrums";
import type { Owner } from "../../core/song/graph";
import { useSong } from "./songStore";

/** Colour of a mic or bus in pictures: its drum's, or that of everything else. */
export const colorOf = ({ piece }: Owner): string => piece?.replace(/\d/, "") ?? "accent";

/** What was found of the drum's own sound: of a bus that of its drum's main mic. */
export const useTone = (owner: Owner): Tone | undefined =>
  useSong(({ facts, song }) => toneOf(song!, facts, owner));
