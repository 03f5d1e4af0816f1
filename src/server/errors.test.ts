import { expect, test } from "@jest/globals";
import { AppError, httpError } from "./errors";

test.each([
  [new AppError("stale", "too late"), 409],
  [Object.assign(new Error("connect"), { code: "ECONNREFUSED" }), 503],
  [Object.assign(new Error("shutting down"), { code: "57P01" }), 503],
  [Object.assign(new Error("cannot connect"), { code: "08006" }), 503],
  [new Error("Connection terminated unexpectedly"), 503],
  [Object.assign(new Error("could not extend file"), { code: "53100" }), 507],
  [Object.assign(new Error("write"), { code: "ENOSPC" }), 507],
  [Object.assign(new Error("syntax"), { code: "42601" }), 500],
  [null, 500],
])("%s is told by status %d, and says that what was saved is safe", (error, status) => {
  const told = httpError(error);
  expect(told.status).toBe(status);
  if (status >= 500) expect(told.body.message).toContain("What was saved is safe");
});
