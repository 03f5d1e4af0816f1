import { pool } from "@/server/db/pool";
import { findPeaks } from "@/server/db/queries/audio";
import { AppError } from "@/server/errors";
import { idOf, respond } from "@/server/http/respond";

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const level = Number(new URL(request.url).searchParams.get("frames") ?? "4096");
    const peaks = Number.isInteger(level) ? await findPeaks(pool(), id, level) : null;
    if (!peaks) throw new AppError("not_found", "There are no such peaks.");
    return new Response(new Uint8Array(peaks), {
      headers: {
        "content-type": "application/octet-stream",
        "cache-control": "private, max-age=31536000, immutable",
      },
    });
  });
