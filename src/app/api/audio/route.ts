import { readSideBySide } from "@/server/audio/sideBySide";
import { pool } from "@/server/db/pool";
import { respondPlayed } from "@/server/http/heavy";
import { valid } from "@/server/http/respond";
import { sideBySideSchema } from "@/server/http/schemas";

/** The same frames of several mics in one answer, for playback. */
export const GET = (request: Request): Promise<Response> =>
  respondPlayed(async () => {
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const { ids, starts, from, count } = valid(sideBySideSchema, {
      ids: query["ids"]?.split(","),
      starts: query["starts"] ? query["starts"].split(",").map(Number) : [],
      from: Number(query["from"]),
      count: Number(query["count"]),
    });
    const body = await readSideBySide(pool(), ids, starts, from, count);
    return new Response(new Uint8Array(body), {
      headers: { "content-type": "application/octet-stream", "cache-control": "private, max-age=600" },
    });
  });
