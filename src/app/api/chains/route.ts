import { jsonBody, respond, valid } from "@/server/http/respond";
import { keptChainSchema } from "@/server/http/schemas";
import { keep, keptChains } from "@/server/useCases/keptChains";

export const dynamic = "force-dynamic";

/** Chains kept under names of one's own, for all songs. */
export const GET = (): Promise<Response> => respond(async () => ({ chains: await keptChains() }));

export const POST = (request: Request): Promise<Response> =>
  respond(async () => {
    const { name, chain } = valid(keptChainSchema, await jsonBody(request));
    return keep(name, chain);
  });
