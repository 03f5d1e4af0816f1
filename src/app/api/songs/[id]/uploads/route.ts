import { beginUpload } from "@/server/audio/uploads";
import { pool } from "@/server/db/pool";
import { findSong } from "@/server/db/queries/song";
import { songGone } from "@/server/errors";
import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { uploadSchema } from "@/server/http/schemas";
import { cleanName } from "@/server/useCases/importAudio";

/** Begins an upload in parts, or tells how much of a broken one is there. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const songId = await idOf(params);
    if (!(await findSong(pool(), songId))) throw songGone();
    const { name, bytes, mark } = valid(uploadSchema, await jsonBody(request, 4096));
    const { upload, received } = await beginUpload({ songId, name: cleanName(name), bytes, mark });
    return { id: upload.id, received };
  });
