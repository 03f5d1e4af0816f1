import type { LayerSource, OpenSong } from "../../contract";
import { shotsOfFile } from "../../core/layers/findOneShots";
import { joinShots, type ShotAudio } from "../../core/layers/joinShots";
import { addLayerMic, layerMic } from "../../core/layers/layerMic";
import { madeFor, madeShots } from "../../core/layers/madeShots";
import { layerLimits } from "../../core/song/layer";
import { applyAll } from "../../core/song/operations";
import { pieceNames } from "../../core/song/pieceNames";
import { withoutMics } from "../../core/song/routes";
import type { Piece, Song } from "../../core/song/song";
import { onThread } from "../analysis/threads";
import { addAudio, storeCopy } from "../audio/playable";
import { audioOfMics, readWhole } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, refusal, songGone } from "../errors";
import { editSongBy } from "./editSong";
import { mostMics, nextMicId } from "./importAudio";
import { stretchOf } from "./stretchAround";

/** What of the song is looked through for strokes that stand alone, s: a stretch of all mics is held for it. */
const lookedThrough = 60;

/** Sounds of files of the song, cut where silence parts them. */
async function fromFiles(songId: string, song: Song, ids: readonly string[]): Promise<ShotAudio[]> {
  const placed = await audioOfMics(pool(), songId, song);
  const shots: ShotAudio[] = [];
  for (const id of ids) {
    const m = song.mics.findIndex((mic) => mic.id === id);
    const mic = song.mics[m];
    if (!mic) throw new AppError("not_found", `There is no file "${id}" in this song. Nothing was changed.`);
    const audio = await readWhole(pool(), { ...placed[m]!, start: 0 });
    try {
      shots.push(...shotsOfFile(mic.file.replace(/\.[^.]*$/, ""), audio, song.sampleRate));
    } catch (error) {
      throw refusal(error, mic.file);
    }
  }
  return shots;
}

/** Sounds captured from the song's own recording. */
async function captured(songId: string, drum: Piece): Promise<ShotAudio[]> {
  const { song, from, stretch } = await stretchOf(songId, () => [drum], lookedThrough);
  return onThread("capture", { song, drum, from, stretch }).catch((error: unknown) => {
    throw refusal(error, pieceNames[drum]);
  });
}

/**
 * Adds a layer to a stored song: a track that plays one-shots at the strokes of a drum. Its sounds come from files of the song, which it takes the
 * place of, from the song's own recording, or are made. One change that can be undone.
 * Errors  AppError "invalid" that says what is wrong and that nothing was changed.
 */
export async function addLayer(
  songId: string,
  { version, drum, from, files }: LayerSource & { readonly version: number },
): Promise<OpenSong> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const { document } = row;
  const shots =
    from === "files"
      ? await fromFiles(songId, document, files)
      : from === "recording"
        ? await captured(songId, drum)
        : madeShots(madeFor(drum), document.sampleRate);
  if (shots.length > layerLimits.sounds)
    throw new AppError(
      "invalid",
      `These files hold ${shots.length} sounds; a layer has at most ${layerLimits.sounds}. Nothing was changed.`,
    );
  const { channels, sounds } = joinShots(shots);
  const name = `${pieceNames[drum]} layer.wav`;
  return editSongBy(songId, version, `Layer under ${pieceNames[drum].toLowerCase()}`, async (db, song) => {
    const left = from === "files" ? [...files] : [];
    if (song.mics.length - left.length >= mostMics)
      throw new AppError("invalid", `A song holds at most ${mostMics} mics. Nothing was changed.`);
    const played = await storeCopy(db, name, channels, song.sampleRate, "wav32f");
    const audio = await addAudio(db, songId, played.stored.id, played, song.sampleRate, null);
    const { frames } = played.info;
    const facts = { id: nextMicId(song.mics), audio, drum, sounds, channels: channels.length, frames };
    const operations = addLayerMic(song, layerMic(song, facts));
    if (left.length > 0) operations.push(...withoutMics(applyAll(song, operations), left));
    return { op: "several", operations };
  });
}
