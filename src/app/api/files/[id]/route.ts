import { serveFile } from "@/server/http/serveFile";
import { idOf, respond } from "@/server/http/respond";

/** A stored file as a download, by range. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => serveFile(request, await idOf(params), "attachment", {}));
