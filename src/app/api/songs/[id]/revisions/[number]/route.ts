import { idOf, respond, valid } from "@/server/http/respond";
import { revisionNumber } from "@/server/http/schemas";
import { giveUpRevision, revisionSong } from "@/server/useCases/revisions";

type Context = { params: Promise<{ id: string; number: string }> };
const numberOf = async (params: Context["params"]): Promise<number> =>
  valid(revisionNumber, Number((await params).number));

/** The song as it was kept. */
export const GET = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => ({ song: await revisionSong(await idOf(params), await numberOf(params)) }));

/** Gives a revision up. */
export const DELETE = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => giveUpRevision(await idOf(params), await numberOf(params)));
