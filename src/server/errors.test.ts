import { expect, test } from "@jest/globals";
import { AppError, httpError, whyFailed } from "./errors";

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

test.each([
  [new AppError("invalid", "There is nothing to export."), true, "There is nothing to export."],
  [Object.assign(new Error("could not extend file"), { code: "53100" }), false, "The disk is full."],
  [Object.assign(new Error("write"), { code: "ENOSPC" }), false, "The disk is full."],
  [Object.assign(new Error("connect"), { code: "ECONNREFUSED" }), false, "The database cannot be reached."],
  [new TypeError("x is undefined"), false, "The server's log says why."],
])("work that ended with %s says what its owner can act on", (error, known, words) => {
  const told = whyFailed(error);
  expect(told.known).toBe(known);
  expect(told.message).toContain(words);
  if (!known) expect(told.message).toContain("song is unchanged");
});
