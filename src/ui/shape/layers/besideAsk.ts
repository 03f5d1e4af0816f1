import type { LayerMic } from "../../../core/song/layer";
import { strokesOfLayer } from "../../../core/engine/oneShots/placeStrokes";
import type { Mic, Song } from "../../../core/song/song";
import type { BesideAsk } from "../../../playback/evidence";
import { audioOf } from "../../shared/chainInput";

/** Strokes that are looked at, at most: more tell no more and take longer. */
const mostStrokes = 160;

/** A layer beside its drum's main mic, each behind its chain. Where the mic stands in time is part of where the layer's strokes are. */
export function besideAsk(song: Song, main: Mic, mic: LayerMic): BesideAsk {
  const played = strokesOfLayer(song, mic.layer).filter((s) => !s.ghost || mic.layer.ghosts !== "leave");
  const step = Math.max(1, played.length / mostStrokes);
  const count = Math.min(mostStrokes, played.length);
  return {
    main: { ...audioOf(song, main), chain: main.chain.filter((p) => p.on && p.type !== "delay" && p.type !== "cancel") },
    layer: { ...audioOf(song, mic), chain: mic.chain.filter((p) => p.on) },
    times: Array.from({ length: count }, (_, i) => played[Math.floor(i * step)]!.time),
    sampleRate: song.sampleRate,
  };
} // prettier-ignore
