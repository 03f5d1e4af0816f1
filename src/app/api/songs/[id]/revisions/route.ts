import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { revisionSchema } from "@/server/http/schemas";
import { keepRevision, revisionsOf } from "@/server/useCases/revisions";

type Context = { params: Promise<{ id: string }> };

/** Revisions of a song, newest first. */
export const GET = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => ({ revisions: await revisionsOf(await idOf(params)) }));

/** Keeps the song as it stands. */
export const POST = (request: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    const { name, note } = valid(revisionSchema, await jsonBody(request));
    return keepRevision(await idOf(params), name, note);
  });
