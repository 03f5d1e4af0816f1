import { placeStrokes } from "../engine/oneShots/placeStrokes";
import { gainToDb } from "../signal/level";
import type { Hit, LayerMic, Song } from "../song/song";

/** What a layer plays, as strokes of its drum where they are heard, s of the song; levels as it plays them against each other. */
export const layerHits = (song: Song, mic: LayerMic): Hit[] =>
  placeStrokes(song, mic).map(({ on, gain, ghost }) => ({
    piece: mic.layer.drum,
    time: Math.max(0, on / song.sampleRate),
    levelDb: gainToDb(Math.abs(gain)),
    ghost,
    kind: "stroke",
    sure: 1,
  }));
