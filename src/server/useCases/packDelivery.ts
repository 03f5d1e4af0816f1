import { Readable } from "node:stream";
import yazl from "yazl";
import { uniqueName } from "../../core/file/uniqueName";
import { streamFile } from "../audio/store";
import { pool } from "../db/pool";
import { findFile } from "../db/queries/file";
import { findSong } from "../db/queries/song";
import { findTask } from "../db/queries/task";
import { AppError, songGone } from "../errors";
import type { Exported } from "../jobs/exportSong";

/** The files of a render that is done as one ZIP archive, under the song's title. Errors  AppError. */
export async function packDelivery(
  taskId: string,
): Promise<{ title: string; stream: NodeJS.ReadableStream }> {
  const task = await findTask(pool(), taskId);
  if (!task) throw new AppError("not_found", "There is no such task.");
  const { files } = (task.result ?? {}) as Partial<Exported>;
  if (task.kind !== "export" || task.state !== "done" || !files)
    throw new AppError("invalid", "This is no render that is done; there is nothing to pack.");
  const song = await findSong(pool(), task.songId);
  if (!song) throw songGone();
  const zip = new yazl.ZipFile();
  const names: string[] = [];
  for (const { id, name, folder } of files) {
    const file = await findFile(pool(), id);
    if (!file) throw new AppError("not_found", `${name} is not there any more: render again.`);
    const own = uniqueName(folder ? `${folder}/${name}` : name, names);
    names.push(own);
    const stream = Readable.from(streamFile(pool(), file), { objectMode: false });
    zip.addReadStream(stream, own, { compress: false, size: file.byteLength });
  }
  zip.end();
  return { title: song.document.title, stream: zip.outputStream };
}
