import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { checkKitNow } from "@/server/useCases/checkKit";

/** What is wrong with the kit as it stands, worst first. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () => checkKitNow(await idOf(params)));
