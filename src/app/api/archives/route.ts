import { createWriteStream } from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { AppError } from "@/server/errors";
import { atMost } from "@/server/http/atMost";
import { guarded } from "@/server/http/respond";
import { withOwnFolder } from "@/server/ownFolder";
import { unpackSong } from "@/server/useCases/archive";

/** Most bytes of an archive: 24 mics of two hours at 48 kHz and 24 bits have 25 GB. */
const largestArchive = 40_000_000_000;

/** Takes an archive as the raw body and makes a new song of it. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, async () => {
    const tooLarge = () =>
      new AppError("too_large", `An archive has at most ${largestArchive} bytes. Nothing was changed.`);
    if (Number(request.headers.get("content-length")) > largestArchive) throw tooLarge();
    if (!request.body) throw new AppError("invalid", "There is no archive in the request.");
    const archive = Readable.fromWeb(request.body as never);
    return withOwnFolder(async (folder) => {
      const path = join(folder, "song.zip");
      await pipeline(archive, atMost(largestArchive, tooLarge), createWriteStream(path));
      return { id: await unpackSong(path) };
    });
  });
