import { endUpload, wholeUpload } from "@/server/audio/uploads";
import { AppError } from "@/server/errors";
import { guarded, idOf } from "@/server/http/respond";
import { importFile } from "@/server/useCases/importFile";

interface Context {
  params: Promise<{ id: string }>;
}

/** Takes the whole file into its song; its parts came before (http/uploadParts.ts). */
export const POST = (request: Request, { params }: Context): Promise<Response> =>
  guarded(request, async () => {
    const id = await idOf(params);
    const { upload, path } = await wholeUpload(id);
    try {
      const delivered = await importFile(upload.songId, upload.name, upload.bytes, path);
      await endUpload(id);
      return delivered;
    } catch (error) {
      // A refused file is done with; after a fault of ours it can be tried again without being sent anew.
      if (error instanceof AppError) await endUpload(id);
      throw error;
    }
  });
