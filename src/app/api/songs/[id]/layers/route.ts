import { jsonBody, idOf, respond, valid } from "@/server/http/respond";
import { layerSchema } from "@/server/http/schemas";
import { addLayer } from "@/server/useCases/addLayer";

/** Adds a layer: a track that plays one-shots at the strokes of a drum. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => addLayer(await idOf(params), valid(layerSchema, await jsonBody(request))));
