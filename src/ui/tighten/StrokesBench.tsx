"use client";
import { mainMic } from "../../core/song/song";
import { Nothing } from "../shared/Nothing";
import { useSong } from "../shared/songStore";
import { DrumStrokes } from "./strokes/DrumStrokes";
import { KitStrokes } from "./KitStrokes";

/** The strokes as they were found: seen, heard and corrected. */
export function StrokesBench() {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  if (piece === null) return <KitStrokes />;
  const own = mainMic(song.mics, piece);
  const mic = own ?? song.mics.find((m) => m.piece === "overhead" && !m.silent);
  if (!mic || (!own && !song.hits.some((h) => h.piece === piece)))
    return <Nothing>No strokes are known of this one: choose a drum on the kit plan.</Nothing>;
  return <DrumStrokes key={piece} piece={piece} mic={mic} />;
}
