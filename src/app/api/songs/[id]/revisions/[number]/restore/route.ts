import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { restoreSchema, revisionNumber } from "@/server/http/schemas";
import { restoreRevision } from "@/server/useCases/revisions";

type Context = { params: Promise<{ id: string; number: string }> };

/** Puts the song, or one drum of it, back to what a revision holds. */
export const POST = (request: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    const number = valid(revisionNumber, Number((await params).number));
    const { version, drum } = valid(restoreSchema, await jsonBody(request));
    return restoreRevision(await idOf(params), number, version, drum);
  });
