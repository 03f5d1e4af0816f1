import { respondHeavy } from "@/server/http/heavy";
import { idOf, valid } from "@/server/http/respond";
import { maskingSchema } from "@/server/http/schemas";
import { judgeMasking } from "@/server/useCases/judgeMasking";

/** Where one mic or bus covers another, at the strokes of the one that is covered. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () => {
    const asked = Object.fromEntries(new URL(request.url).searchParams);
    return judgeMasking(await idOf(params), valid(maskingSchema, asked));
  });
