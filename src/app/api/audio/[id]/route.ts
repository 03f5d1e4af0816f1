import { pool } from "@/server/db/pool";
import { findAudio } from "@/server/db/queries/audio";
import { AppError } from "@/server/errors";
import { serveFile } from "@/server/http/serveFile";
import { idOf, respond } from "@/server/http/respond";

/** The audio as it is played (the original, or its copy at the song's rate), by range. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const audio = await findAudio(pool(), await idOf(params));
    if (!audio) throw new AppError("not_found", "There is no such audio.");
    const { sampleFormat, channels, sampleRate, frameBytes, dataStart, frames } = audio;
    return serveFile(request, audio.fileId, null, {
      "x-audio": JSON.stringify({ sampleFormat, channels, sampleRate, frameBytes, dataStart, frames }),
    });
  });
