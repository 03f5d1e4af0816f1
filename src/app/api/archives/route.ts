import { createWriteStream } from "node:fs";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { AppError } from "@/server/errors";
import { guarded } from "@/server/http/respond";
import { unpackSong } from "@/server/useCases/archive";

/** Takes an archive as the raw body and makes a new song of it. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, async () => {
    if (!request.body) throw new AppError("invalid", "There is no archive in the request.");
    const folder = await mkdtemp(join(tmpdir(), "jubo-archive-"));
    try {
      const path = join(folder, "song.zip");
      await pipeline(Readable.fromWeb(request.body as never), createWriteStream(path));
      return { id: await unpackSong(path) };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
