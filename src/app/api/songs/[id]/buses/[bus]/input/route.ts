import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { stretchBody } from "@/server/http/stretchBody";
import { busStretch } from "@/server/useCases/busStretch";

interface Path {
  readonly params: Promise<{ id: string; bus: string }>;
}

/** What comes into a bus over a stretch, for a song that feeds it as `stands` says; as `stretchBody`. */
export const GET = (request: Request, { params }: Path): Promise<Response> =>
  respondHeavy(async () => {
    const stands = new URL(request.url).searchParams.get("stands") ?? "";
    return stretchBody(await busStretch(await idOf(params), (await params).bus, stands));
  });
