import { Readable } from "node:stream";
import { idOf, respond } from "@/server/http/respond";
import { packSong } from "@/server/useCases/archive";

/** The whole song as a ZIP archive. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const { title, stream } = await packSong(await idOf(params));
    const name = encodeURIComponent(`${title}.jubo.zip`);
    return new Response(Readable.toWeb(stream as Readable) as ReadableStream, {
      headers: {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename*=UTF-8''${name}`,
      },
    });
  });
