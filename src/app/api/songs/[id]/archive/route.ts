import { Readable } from "node:stream";
import { revisionNumber } from "@/server/http/schemas";
import { idOf, respond, valid } from "@/server/http/respond";
import { packSong } from "@/server/useCases/archive";

/** The revision that is asked for; null: the song as it stands. */
const revisionOf = (request: Request): number | null => {
  const asked = new URL(request.url).searchParams.get("revision");
  return asked === null ? null : valid(revisionNumber, Number(asked));
};

/** The whole song as a ZIP archive, as it stands or as it was kept. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const { title, stream } = await packSong(await idOf(params), revisionOf(request));
    const revision = revisionOf(request);
    const name = encodeURIComponent(`${title}${revision === null ? "" : ` ${revision}`}.jubo.zip`);
    return new Response(Readable.toWeb(stream as Readable) as ReadableStream, {
      headers: {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename*=UTF-8''${name}`,
      },
    });
  });
