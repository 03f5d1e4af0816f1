import type { PlacesMeasured } from "../../contract";
import {
  cymbalPlaces,
  cymbalStrokes,
  placeAtStroke,
  readAfter,
  readBefore,
} from "../../core/clean/stereoPosition";
import { stretchesOf } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";

/** Measures where the cymbals of the stored song sit, before and after cleaning. Errors  AppError. */
export async function measurePlaces(songId: string): Promise<PlacesMeasured> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = row.document;
  const strokes = cymbalStrokes(song.hits);
  if (strokes.length === 0)
    throw new AppError("invalid", "No strokes of hat, ride or crash are known: analyse the kit first.");
  const read = await stretchesOf(pool(), songId, song);
  const frames = Math.round((readBefore + readAfter) * song.sampleRate);
  const found = [];
  for (const stroke of strokes) {
    const from = Math.round((stroke.time - readBefore) * song.sampleRate);
    const stretch = await read(from, frames);
    found.push({ piece: stroke.piece, place: placeAtStroke(song, stroke, stretch) });
  }
  return { places: cymbalPlaces(found) };
}
