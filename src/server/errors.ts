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

/** HTTP status and body of an error. What is not an AppError is our fault and tells nothing of the inside. */
export function httpError(error: unknown): { status: number; body: { code: string; message: string } } {
  if (error instanceof AppError)
    return { status: statusOf[error.code], body: { code: error.code, message: error.message } };
  return {
    status: 500,
    body: {
      code: "internal",
      message: "Something went wrong on the server. What was saved is safe; try again.",
    },
  };
}
