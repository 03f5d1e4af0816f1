import { idOf, respond } from "@/server/http/respond";
import { giveUp } from "@/server/useCases/keptChains";

export const DELETE = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => giveUp(await idOf(params)));
