import Joi from "joi";
import { AppError, httpError } from "../errors";
import { log } from "../log";
import { readJson } from "../readJson";
import { refusalOf } from "./guard";

/** Runs a route's work and turns what it throws into a clear answer. */
export async function respond(work: () => Promise<Response | object>): Promise<Response> {
  try {
    const result = await work();
    return result instanceof Response ? result : Response.json(result);
  } catch (error) {
    const { status, body } = httpError(error);
    if (status === 500)
      log.error({ error: error instanceof Error ? error.stack : String(error) }, "request failed");
    return Response.json(body, { status });
  }
}

/** As `respond`, for routes that take large bodies and so are not behind the proxy: checks the request itself. */
export async function guarded(request: Request, work: () => Promise<Response | object>): Promise<Response> {
  const refusal = refusalOf(request);
  return refusal ? new Response(refusal.message, { status: refusal.status }) : respond(work);
}

/** Checks a value that came from outside. Errors: AppError "invalid" that says what and where. */
export function valid<T>(schema: Joi.Schema<T>, value: unknown): T {
  const { value: checked, error } = schema.validate(value, { convert: false, abortEarly: true });
  if (error)
    throw new AppError(
      "invalid",
      `The request is not as it should be: ${error.message}. Nothing was changed.`,
    );
  return checked as T;
}

const idSchema = Joi.string().guid({ version: "uuidv4" }).required().label("id");

/** An id as an address has it. Errors  AppError "not_found" for what is none. */
export function checkedId(id: string): string {
  if (idSchema.validate(id).error) throw new AppError("not_found", "There is nothing with this id.");
  return id;
}
/** The id in a route's path. */
export const idOf = async (params: Promise<{ id: string }>): Promise<string> => checkedId((await params).id);

/** A JSON body of at most `limit` bytes. */
export async function jsonBody(request: Request, limit = 16 * 1024 * 1024): Promise<unknown> {
  const tooLarge = () =>
    new AppError("too_large", `The request has more than ${limit} bytes. Nothing was changed.`);
  if (Number(request.headers.get("content-length")) > limit) throw tooLarge();
  const text = await request.text();
  if (text.length > limit) throw tooLarge();
  try {
    return readJson(text);
  } catch (error) {
    if (error instanceof RangeError)
      throw new AppError("invalid", `The request cannot be taken: ${error.message}. Nothing was changed.`);
    throw new AppError("invalid", "The request is not JSON. Nothing was changed.");
  }
}
