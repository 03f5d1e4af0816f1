import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { versionSchema } from "@/server/http/schemas";
import { takeLoopApart } from "@/server/useCases/takeLoopApart";

type Context = { params: Promise<{ id: string; mic: string }> };

/** Takes a loop apart into its drums. */
export const POST = (request: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    const { version } = valid(versionSchema, await jsonBody(request));
    return takeLoopApart(await idOf(params), (await params).mic, version);
  });
