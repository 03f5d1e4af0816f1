import Joi from "joi";
import { NextResponse } from "next/server";
import { sessionCookie, sessionOf } from "@/server/http/guard";
import { checkPassphrase } from "@/server/http/passphrase";
import { jsonBody, respond, valid } from "@/server/http/respond";

const schema = Joi.object<{ passphrase: string }>({ passphrase: Joi.string().max(1000).required() });
const days = 30;

/** Checks the passphrase and sets the session cookie. */
export const POST = (request: Request): Promise<Response> =>
  respond(async () => {
    const { passphrase } = valid(schema, await jsonBody(request, 4096));
    const wanted = process.env["JUBO_PASSPHRASE"] ?? "";
    await checkPassphrase(passphrase, wanted);
    const response = NextResponse.json({ entered: true });
    response.cookies.set(sessionCookie, sessionOf(wanted), {
      path: "/",
      httpOnly: true,
      sameSite: "strict",
      maxAge: days * 86400,
    });
    return response;
  });
