import { idOf, respond } from "@/server/http/respond";
import { cancelledStretch } from "@/server/useCases/cancelledStretch";

interface Path {
  readonly params: Promise<{ id: string; mic: string }>;
}

/** A stretch of a mic as Cancel leaves it: 32-bit floats, channel by channel; where it begins stands in `x-stretch`. */
export const GET = (request: Request, { params }: Path): Promise<Response> =>
  respond(async () => {
    const query = new URL(request.url).searchParams;
    const { from, channels } = await cancelledStretch(await idOf(params), (await params).mic, query);
    return new Response(new Blob(channels.map((x) => new Float32Array(x))), {
      headers: {
        "content-type": "application/octet-stream",
        "x-stretch": JSON.stringify({ from, channels: channels.length }),
      },
    });
  });
