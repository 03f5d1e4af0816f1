import { respondHeavy } from "@/server/http/heavy";
import { idOf } from "@/server/http/respond";
import { measurePlaces } from "@/server/useCases/measurePlaces";

/** Where the cymbals sit between left and right, before and after cleaning, as the song is set now. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respondHeavy(async () => measurePlaces(await idOf(params)));
