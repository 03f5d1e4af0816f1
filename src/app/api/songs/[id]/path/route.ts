import { respondHeavy } from "@/server/http/heavy";
import { idOf, valid } from "@/server/http/respond";
import { busSchema } from "@/server/http/schemas";
import { judgePath } from "@/server/useCases/judgePath";

/** What a parallel path brings to the kit. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () =>
    judgePath(await idOf(params), valid(busSchema, new URL(request.url).searchParams.get("bus"))),
  );
