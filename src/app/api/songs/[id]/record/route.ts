import { respondHeavy } from "@/server/http/heavy";
import { idOf, valid } from "@/server/http/respond";
import { sectionSchema } from "@/server/http/schemas";
import { measureRecord } from "@/server/useCases/measureRecord";

/** The kit beside the reference record, over one section where it is told. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () => {
    const section = new URL(request.url).searchParams.get("section");
    return measureRecord(await idOf(params), section === null ? null : valid(sectionSchema, section));
  });
