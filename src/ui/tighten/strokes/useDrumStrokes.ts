import { useMemo, useState } from "react";
import { correctHits, doubtsOf } from "../../../core/hits/corrections";
import { decideHits } from "../../../core/hits/decideHits";
import { hitExcess } from "../../../core/hits/evidence";
import type { Mic, Piece } from "../../../core/song/song";
import { useEvidence } from "../../shared/evidenceClient";
import { useSong } from "../../shared/songStore";

/** The strokes of a drum at the sensitivity that is set, or tried: in the order of the pictures, with what is doubtful. */
export function useDrumStrokes(piece: Piece, mic: Mic) {
  const { sampleRate, detection, hits } = useSong((s) => s.song!);
  const events = useSong((s) => s.facts).events[piece];
  /** A sensitivity that is tried and not yet taken, dB. */
  const [draft, setDraft] = useState<number | null>(null);
  const [byLevel, setByLevel] = useState(true);
  const sensitivity = draft ?? detection.sensitivity[piece] ?? 0;
  const shown = useMemo(() => {
    const tried =
      draft !== null && events ? correctHits(decideHits(events, draft), detection.corrections) : hits;
    return tried.filter((h) => h.piece === piece);
  }, [draft, events, hits, detection.corrections, piece]);
  const doubts = useMemo(
    () => (events ? doubtsOf(events, hitExcess(piece) - sensitivity, shown, detection.corrections) : []),
    [events, piece, sensitivity, shown, detection.corrections],
  );
  // The pictures are made of every event, so that a move of the sensitivity only chooses among them.
  const pictured = useMemo(() => {
    const all = new Set([...shown.map((h) => h.time), ...(events?.events.map((e) => e.time) ?? [])]);
    return [...all].sort((a, b) => a - b);
  }, [shown, events]);
  const mark = pictured.reduce((sum, t) => (31 * sum + Math.round(t * sampleRate)) | 0, 0);
  const stack = useEvidence("stack", `${mic.audio} ${mic.start} ${pictured.length} ${mark}`, {
    mic: { audio: mic.audio!, start: mic.start },
    times: pictured.map((t) => t + mic.lateBy / sampleRate),
    sampleRate,
  });
  const sorted = useMemo(
    () => (byLevel ? [...shown].sort((x, y) => y.levelDb - x.levelDb) : shown),
    [shown, byLevel],
  );
  /** Rows of the pictures in the order in which the strokes are shown. */
  const order = useMemo(() => {
    const rows = new Map(pictured.map((t, i) => [t, i]));
    return sorted.flatMap((h) => rows.get(h.time) ?? []);
  }, [pictured, sorted]);
  return {
    events,
    sensitivity,
    setDraft,
    byLevel,
    setByLevel,
    shown,
    doubts,
    pictured,
    stack,
    sorted,
    order,
  };
}
export type DrumStrokesShown = ReturnType<typeof useDrumStrokes>;
