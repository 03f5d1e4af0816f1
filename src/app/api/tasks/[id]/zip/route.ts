import { idOf, respond } from "@/server/http/respond";
import { zipBody } from "@/server/http/zipBody";
import { packDelivery } from "@/server/useCases/packDelivery";

/** Everything that a render delivered as one ZIP archive. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const { title, stream } = await packDelivery(await idOf(params));
    return zipBody(stream, title);
  });
