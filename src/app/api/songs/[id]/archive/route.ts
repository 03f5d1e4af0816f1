import { idOf, respond, valid } from "@/server/http/respond";
import { revisionNumber } from "@/server/http/schemas";
import { zipBody } from "@/server/http/zipBody";
import { packSong } from "@/server/useCases/archive";

/** The whole song as a ZIP archive, as it stands, or with `?revision=` as it was kept under that number. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    const asked = new URL(request.url).searchParams.get("revision");
    const revision = asked === null ? null : valid(revisionNumber, Number(asked));
    const { title, stream } = await packSong(await idOf(params), revision);
    return zipBody(stream, `${title}${revision === null ? "" : ` ${revision}`}.jubo`);
  });
