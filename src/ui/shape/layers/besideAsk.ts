import { spreadOver } from "../../../core/hits/snippets";
import { playedTimes } from "../../../core/engine/oneShots/placeStrokes";
import type { LayerMic, Mic, Song } from "../../../core/song/song";
import type { BesideAsk } from "../../../playback/evidence";
import { audioOf } from "../../shared/chainInput";

/** Strokes that a picture looks at, at most: more tell no more and take longer. */
const mostStrokes = 160;

/**
 * A layer beside its drum's main mic, each behind its chain. The mic's delay is part of where the layer's strokes are, and
 * Cancel passes a mic that is alone: neither is asked for.
 */
export function besideAsk(song: Song, main: Mic, mic: LayerMic, most = mostStrokes): BesideAsk {
  const times = playedTimes(song, mic.layer);
  return {
    main: {
      ...audioOf(song, main),
      chain: main.chain.filter((p) => p.on && p.type !== "delay" && p.type !== "cancel"),
    },
    layer: { ...audioOf(song, mic), chain: mic.chain.filter((p) => p.on) },
    times: spreadOver(times, Math.min(most, times.length)),
    sampleRate: song.sampleRate,
  };
}
