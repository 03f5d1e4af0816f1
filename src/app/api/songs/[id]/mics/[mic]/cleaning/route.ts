import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { judgeCleaning } from "@/server/useCases/judgeCleaning";

interface Path {
  readonly params: Promise<{ id: string; mic: string }>;
}

/** What the ways to clean a mic do to its bleed, strokes and ghost notes, and what its chain does to the bleed now. */
export const GET = (_: Request, { params }: Path): Promise<Response> =>
  respondHeavy(async () => judgeCleaning(await idOf(params), (await params).mic));
