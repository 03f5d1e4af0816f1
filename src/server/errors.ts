export type ErrorCode = "not_found" | "invalid" | "stale" | "too_large" | "refused" | "conflict";

/** An error that its reader can act on; the text says what happened, what is safe and what to do. */
export class AppError extends Error {
  override readonly name = "AppError";
  constructor(
    readonly code: ErrorCode,
    message: string,
  ) {
    super(message);
  }
}

/** What everybody is told who asks for a song that is not there. */
export const songGone = (): AppError => new AppError("not_found", "This song does not exist any more.");

/** What the core refuses it throws as RangeErrors. One that comes from a thread is of another realm and only known by its name. */
const isRefused = (error: unknown): error is Error => (error as Error | null)?.name === "RangeError";

/** What the core refuses in words, as an answer to whoever asked, `about` first; anything else is our fault and stays what it is. */
export const refusal = (error: unknown, about?: string): unknown =>
  isRefused(error)
    ? new AppError("invalid", `${about ? `${about}: ` : ""}${error.message}. Nothing was changed.`)
    : error;

const statusOf: Record<ErrorCode, number> = {
  not_found: 404,
  invalid: 400,
  stale: 409,
  too_large: 413,
  refused: 403,
  conflict: 409,
};

/** Codes by which the system and PostgreSQL (appendix A of its manual: class 08, 53100, 57P01 to 57P03) say what is missing. */
const away = /^(ECONNREFUSED|ECONNRESET|EPIPE|08\w{3}|57P0[123])$/;
const full = /^(ENOSPC|EDQUOT|53100)$/;
/** What the driver says without a code when a connection ends under a question. */
const brokenOff = /^(Connection terminated|Client has encountered a connection error)/;

/** What is missing around us, which time or somebody mends; null: it is something else. */
function outage(error: unknown): { status: number; body: { code: string; message: string } } | null {
  const { code = "", message = "" } = (error ?? {}) as { code?: string; message?: string };
  if (full.test(code))
    return {
      status: 507,
      body: {
        code: "full",
        message: "The disk is full. What was saved is safe; free some room, then try again.",
      },
    };
  if (away.test(code) || brokenOff.test(message))
    return {
      status: 503,
      body: {
        code: "away",
        message: "The database cannot be reached. What was saved is safe; it goes on when it is back.",
      },
    };
  return null;
}

/** What an error is to whoever asked for work that failed: its own words, what is missing around us, or what else may help. */
export function whyFailed(error: unknown): { readonly known: boolean; readonly message: string } {
  if (error instanceof AppError) return { known: true, message: error.message };
  const missing = outage(error);
  return {
    known: false,
    message: missing
      ? `${missing.body.message} The song is unchanged.`
      : "The work failed; the song is unchanged. The server's log says why.",
  };
}

/** HTTP status and body of an error. What is not an AppError is our fault and tells nothing of the inside. */
export function httpError(error: unknown): { status: number; body: { code: string; message: string } } {
  if (error instanceof AppError)
    return { status: statusOf[error.code], body: { code: error.code, message: error.message } };
  const missing = outage(error);
  if (missing) return missing;
  return {
    status: 500,
    body: {
      code: "internal",
      message: "Something went wrong on the server. What was saved is safe; try again.",
    },
  };
}
