import type { KitAnalysis } from "./analysed";
import { decideAll } from "../hits/corrections";
import { planEdits } from "../tighten/planEdits";
import { applyAll, type Operation } from "../song/operations";
import { followLabel } from "../song/relabel";
import { routeByLabel } from "../song/routes";
import type { Song } from "../song/song";

/** What an analysis tells the song: silent and unplayed mics, main mics, delays, strokes, tempo, bleed. One operation. */
export function takeAnalysis(song: Song, analysis: KitAnalysis, bleed: Song["bleed"] = {}): Operation {
  const hits = decideAll(analysis.hits, analysis.events, song.detection);
  const idOf = (file: string | null) => song.mics.find((m) => m.file === file)?.id ?? null;
  const heardAs = Object.fromEntries(
    analysis.mics.flatMap(({ file, piece, place }) => (idOf(file) ? [[idOf(file)!, { piece, place }]] : [])),
  );
  const mics = analysis.mics.flatMap((a): Operation[] => {
    const mic = idOf(a.file);
    if (!mic) return [];
    const { silent, unplayed, peakDbfs, piece, place, sure } = a;
    return [
      ...followLabel(
        song.mics.find((m) => m.id === mic)!,
        { piece, place },
      ),
      {
        op: "setMic",
        mic,
        values: {
          piece,
          place,
          sure,
          silent,
          unplayed,
          peakDbfs,
          reference: idOf(a.reference),
          lateBy: a.delaySamples,
          ownEdits: [],
        },
      },
    ];
  });
  return {
    op: "several",
    operations: [
      ...mics,
      ...routeByLabel(song, applyAll(song, mics)),
      {
        op: "setSong",
        values: {
          hits,
          bleed,
          heardAs,
          tempo: analysis.tempo,
          edits: planEdits({ ...song, hits, tempo: analysis.tempo }),
        },
      },
    ],
  };
}
