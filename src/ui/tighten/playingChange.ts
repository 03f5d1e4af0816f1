import { correctHits, decideAll } from "../../core/hits/corrections";
import type { SongValues } from "../../core/song/operations";
import { planEdits } from "../../core/tighten/planEdits";
import { isDrum, type DetectionSettings, type HitCorrection, type Song } from "../../core/song/song";
import { useSong } from "../shared/songStore";

type PlayingValues = Pick<SongValues, "tempo" | "tighten" | "hits" | "detection">;

/** True when something is moved now, or would be after the change. */
const moves = (song: Song, { tighten = song.tighten }: PlayingValues): boolean =>
  song.edits.length > 0 ||
  song.mics.some((m) => isDrum(m.piece) && m.ownEdits.length > 0) ||
  [tighten, ...Object.values(tighten.bySection)].some((s) => (s.strength ?? 0) > 0);

/**
 * Changes what the cuts follow from. Where something is moved it is heard and seen at once, with joints that know nothing
 * of the recording; then the server plans the cuts with the recording under them and takes everything as one change.
 * Otherwise it is a change like any other.
 */
export function changePlaying(label: string, values: PlayingValues): void {
  const { song, change, preview, run } = useSong.getState();
  if (!song) return;
  if (!moves(song, values)) return change(label, { op: "setSong", values });
  preview({ op: "setSong", values: { ...values, edits: planEdits({ ...song, ...values }) } });
  void run("tighten", { label, values });
}

/** Takes a correction of the strokes; it outlives a new detection. */
export function correctStroke(label: string, correction: HitCorrection): void {
  const { song } = useSong.getState();
  if (!song) return;
  const { detection } = song;
  changePlaying(label, {
    hits: correctHits(song.hits, [correction]),
    detection: { ...detection, corrections: [...detection.corrections, correction] },
  });
}

/** Strokes as other settings would find them. */
export function redetected(detection: DetectionSettings): PlayingValues {
  const { song, facts } = useSong.getState();
  return { detection, hits: decideAll(song!.hits, Object.values(facts.events), detection) };
}
