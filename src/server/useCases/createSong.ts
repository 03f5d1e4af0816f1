import { newSong } from "../../core/song/create";
import { pool } from "../db/pool";
import { insertSong } from "../db/queries/song";

/** An empty song; its first file sets the sample rate. Returns the id. */
export const createSong = (title: string): Promise<string> =>
  insertSong(pool(), newSong(title, 48000, []), null);
