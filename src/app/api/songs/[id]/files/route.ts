import { AppError } from "@/server/errors";
import { guarded, idOf } from "@/server/http/respond";
import { importAudio } from "@/server/useCases/importAudio";

/** Takes one file as the raw body; `name` in the query, its length in Content-Length. */
export const PUT = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(request, async () => {
    const id = await idOf(params);
    const name = new URL(request.url).searchParams.get("name");
    const length = Number(request.headers.get("content-length"));
    if (!name) throw new AppError("invalid", "The file has no name.");
    if (!Number.isSafeInteger(length) || length < 0 || request.headers.get("content-length") === null)
      throw new AppError("invalid", "The length of the file is not told.");
    async function* nothing(): AsyncGenerator<Uint8Array> {}
    return importAudio(id, name, length, (request.body as AsyncIterable<Uint8Array> | null) ?? nothing());
  });
