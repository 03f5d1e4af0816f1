import { respondHeavy } from "@/server/http/heavy";
import { idOf, valid } from "@/server/http/respond";
import { busSchema } from "@/server/http/schemas";
import { measureNull } from "@/server/useCases/measureNull";

/** What a parallel path leaves when it is turned over against what goes into it. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () =>
    measureNull(await idOf(params), valid(busSchema, new URL(request.url).searchParams.get("bus"))),
  );
