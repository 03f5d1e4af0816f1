import { uniqueName } from "../file/uniqueName";
import { newMic } from "../song/create";
import { newLayer } from "../song/layer";
import { mainMic, type LayerMic, type OneShot, type Piece, type Song } from "../song/song";
import { applyAll, type Operation } from "../song/operations";
import { pieceNames } from "../song/pieceNames";
import { routeByLabel } from "../song/routes";

/** It begins under the drum and is brought up while one listens, dB. */
const firstLevel = -12;

export interface LayerFacts {
  readonly id: string;
  readonly audio: string | null;
  readonly drum: Piece;
  readonly sounds: readonly OneShot[];
  /** The file that its sounds lie in. */
  readonly channels: number;
  readonly frames: number;
}

/** A layer as a mic of the song. */
export function layerMic(
  song: Pick<Song, "mics">,
  { id, audio, drum, sounds, channels, frames }: LayerFacts,
): LayerMic {
  const file = uniqueName(
    `${pieceNames[drum]} layer.wav`,
    song.mics.map((m) => m.file),
  );
  const place = channels === 2 ? "pair" : "close";
  return {
    ...newMic({ id, file, audio, channels, frames, piece: "sample", place, sure: 1 }),
    reference: mainMic(song.mics, drum)?.id ?? null,
    peakDbfs: Math.max(...sounds.map((s) => s.levelDb)),
    level: firstLevel,
    layer: newLayer(drum, sounds),
  };
}

/** Operations that bring a layer into a song, beside the drum that it doubles. */
export function addLayerMic(song: Song, mic: LayerMic): Operation[] {
  const taken: Operation[] = [{ op: "addMics", mics: [mic] }];
  return [...taken, ...routeByLabel(song, applyAll(song, taken))];
}
