import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { editSchema } from "@/server/http/schemas";
import { editSong } from "@/server/useCases/editSong";

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const { version, label, operation } = valid(editSchema, await jsonBody(request));
    const { song: _song, ...rest } = await editSong(id, version, label, operation);
    return rest;
  });
