import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { historySchema, pastSchema } from "@/server/http/schemas";
import { stepHistory } from "@/server/useCases/editSong";
import { listPast, songAt } from "@/server/useCases/songHistory";

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const { version, direction } = valid(historySchema, await jsonBody(request));
    return stepHistory(id, version, direction);
  });

/** States the song was in; with `?position=` the song as it was then. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const position = new URL(request.url).searchParams.get("position");
    if (position === null) return { past: await listPast(id) };
    return { song: await songAt(id, valid(pastSchema, Number(position))) };
  });
