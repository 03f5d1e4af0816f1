import { Readable } from "node:stream";

/** An answer that is a ZIP archive under a name. */
export const zipBody = (stream: NodeJS.ReadableStream, name: string): Response =>
  new Response(Readable.toWeb(stream as Readable) as ReadableStream, {
    headers: {
      "content-type": "application/zip",
      "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.zip`)}`,
    },
  });
