import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { historySchema } from "@/server/http/schemas";
import { stepHistory } from "@/server/useCases/editSong";

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const { version, direction } = valid(historySchema, await jsonBody(request));
    return stepHistory(id, version, direction);
  });
