import type { IncomingMessage, ServerResponse } from "node:http";
import { takePart } from "../audio/uploads";
import { AppError } from "../errors";
import { checkedId, guarded } from "./respond";

const path = /^\/api\/uploads\/([^/?]+)(?:\?|$)/;

/** The upload of which a request brings a part; null: it does something else. */
export const uploadOf = ({ method, url = "" }: IncomingMessage): string | null =>
  (method === "PUT" && path.exec(url)?.[1]) || null;

/**
 * Takes the next part of a file as the raw body; `from` in the query is how much was sent before. Ahead of the framework,
 * through whose streams it takes three times the processor time (docs/performance.md).
 */
export async function takeUploadPart(
  id: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const answered = await answer(id, request);
  // Who still sends reads no answer before all is sent.
  request.resume();
  response.writeHead(answered.status, {
    "content-type": answered.headers.get("content-type") ?? "text/plain; charset=utf-8",
    "x-content-type-options": "nosniff",
  });
  response.end(await answered.text());
}

/** Of what came in, as the routes have it, without its body. */
const asked = ({ url, method, headers }: IncomingMessage): Request =>
  new Request(new URL(url!, "http://jubo"), {
    method: method!,
    headers: Object.entries(headers).map(([name, value]): [string, string] => [name, String(value)]),
  });

function answer(id: string, request: IncomingMessage): Promise<Response> {
  const known = asked(request);
  return guarded(known, async () => {
    const from = Number(new URL(known.url).searchParams.get("from"));
    if (!Number.isSafeInteger(from) || from < 0)
      throw new AppError("invalid", "Where the part begins is not told.");
    // A refusal is still to be sent on the connection when the rest is not read.
    const body = request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>;
    return { received: await takePart(checkedId(id), from, body) };
  });
}
