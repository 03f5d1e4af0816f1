import { Readable } from "node:stream";
import { idOf, respond } from "@/server/http/respond";
import { packDelivery } from "@/server/useCases/packDelivery";

/** Everything that a render delivered as one ZIP archive. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const { title, stream } = await packDelivery(await idOf(params));
    const name = encodeURIComponent(`${title}.zip`);
    return new Response(Readable.toWeb(stream as Readable) as ReadableStream, {
      headers: {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename*=UTF-8''${name}`,
      },
    });
  });
