import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { measureMono } from "@/server/useCases/measureMono";

/** What the kit loses in mono as it is set now. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () => measureMono(await idOf(params)));
