import type { Delivered } from "../../contract";
import { api, ApiError } from "../shared/api";

/** Bytes of one part: little enough to lose little when the connection breaks. */
const partBytes = 8 * 1024 * 1024;
/** Breaks that are got over by waiting before the file counts as stopped; waits double from half a second. */
const mostBreaks = 6;

/** Sends one part and resolves with the bytes that are there. */
function sendPart(
  id: string,
  from: number,
  part: Blob,
  progress: (sent: number) => void,
  signal: AbortSignal,
): Promise<number> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest(); // fetch tells no upload progress
    const abort = () => request.abort();
    signal.addEventListener("abort", abort);
    request.open("PUT", `/api/uploads/${id}?from=${from}`);
    request.upload.onprogress = (event) => progress(from + event.loaded);
    request.onerror = () => reject(new ApiError("offline", "The connection broke off."));
    request.onabort = () =>
      reject(new ApiError("stopped", "Stopped; it goes on from there when it is tried again."));
    request.onload = () => {
      let body: { received?: number; code?: string; message?: string } = {};
      try {
        body = JSON.parse(request.responseText) as typeof body;
      } catch {
        // told by its status below
      }
      if (request.status === 200) resolve(body.received!);
      else
        reject(
          new ApiError(body.code ?? "internal", body.message ?? `The server answered ${request.status}.`),
        );
    };
    request.onloadend = () => signal.removeEventListener("abort", abort);
    request.send(part);
  });
}

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Sends a file in parts and has it taken into the song. A break is waited for and gone on from; after a reload of the page the same file goes
 * on where it stopped. Errors  ApiError, "stopped" after `signal`.
 */
export async function sendFile(
  songId: string,
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<Delivered> {
  const begin = () =>
    api.beginUpload(songId, { name: file.name, bytes: file.size, mark: `${file.lastModified}` });
  const { id, received } = await begin();
  const tell = (sent: number) => progress(Math.min(0.99, sent / Math.max(1, file.size)));
  let at = received;
  for (let breaks = 0; at < file.size;) {
    if (signal.aborted)
      throw new ApiError("stopped", "Stopped; it goes on from there when it is tried again.");
    try {
      at = await sendPart(id, at, file.slice(at, at + partBytes), tell, signal);
      breaks = 0;
    } catch (error) {
      const code = error instanceof ApiError ? error.code : "internal";
      if (code === "stopped" || breaks >= mostBreaks || !["offline", "conflict", "internal"].includes(code))
        throw error;
      await wait(500 * 2 ** breaks++);
      at = await begin().then(
        (b) => b.received,
        () => at,
      ); // what came before the break is there
    }
  }
  return api.takeUpload(id);
}
