import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { stretchBody } from "@/server/http/stretchBody";
import { cancelledStretch } from "@/server/useCases/cancelledStretch";

interface Path {
  readonly params: Promise<{ id: string; mic: string }>;
}

/** A stretch of a mic as Cancel leaves it; as `stretchBody`. */
export const GET = (request: Request, { params }: Path): Promise<Response> =>
  respondHeavy(async () => {
    const query = new URL(request.url).searchParams;
    return stretchBody(await cancelledStretch(await idOf(params), (await params).mic, query));
  });
