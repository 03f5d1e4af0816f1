import { useMemo } from "react";
import type { Proposal } from "../../core/song/proposal";
import { labelQuestions } from "../../core/gather/labelQuestions";
import { isDecided } from "../../core/proposals/decided";
import { proposeStep } from "../../core/proposals/propose";
import { steps, type Step } from "../../core/song/song";
import { useSong } from "./songStore";

/** Proposals of one step for the song as it stands; none before the analysis. */
export function useProposals(step: Step): readonly Proposal[] {
  const song = useSong((s) => s.song);
  const facts = useSong((s) => s.facts);
  const analysed = useSong((s) => s.analysed);
  return useMemo(
    () => (song && analysed ? proposeStep(song, facts, step) : []),
    [song, facts, analysed, step],
  );
}

/** How many proposals of each step wait to be decided. */
export function useOpenCounts(): Readonly<Record<Step, number>> {
  const song = useSong((s) => s.song);
  const facts = useSong((s) => s.facts);
  const analysed = useSong((s) => s.analysed);
  return useMemo(() => {
    const count = (step: Step) =>
      song && analysed ? proposeStep(song, facts, step).filter((p) => !isDecided(song, p)).length : 0;
    const counts = Object.fromEntries(steps.map((s) => [s, count(s)])) as Record<Step, number>;
    if (song && analysed) counts.gather += labelQuestions(song).length;
    if (song && analysed && song.tempo && song.tighten.strength === 0 && song.edits.length === 0)
      counts.tighten = 1;
    return counts;
  }, [song, facts, analysed]);
}
