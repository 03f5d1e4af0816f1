import { timingSafeEqual } from "node:crypto";
import Joi from "joi";
import { AppError } from "@/server/errors";
import { sessionCookie, sessionOf } from "@/server/http/guard";
import { jsonBody, respond, valid } from "@/server/http/respond";

const schema = Joi.object<{ passphrase: string }>({ passphrase: Joi.string().max(1000).required() });

/** Checks the passphrase and sets the session cookie; a wrong one costs half a second. */
export const POST = (request: Request): Promise<Response> =>
  respond(async () => {
    const { passphrase } = valid(schema, await jsonBody(request, 4096));
    const wanted = process.env["JUBO_PASSPHRASE"] ?? "";
    const given = Buffer.from(sessionOf(passphrase));
    if (!timingSafeEqual(given, Buffer.from(sessionOf(wanted)))) {
      await new Promise((resolve) => setTimeout(resolve, 500));
      throw new AppError("refused", "That is not the passphrase.");
    }
    const cookie = `${sessionCookie}=${sessionOf(wanted)}; Path=/; HttpOnly; SameSite=Strict; Max-Age=2592000`;
    return Response.json({ entered: true }, { headers: { "set-cookie": cookie } });
  });
