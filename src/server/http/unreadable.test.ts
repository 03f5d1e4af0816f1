import { expect, test } from "@jest/globals";
import { unreadable } from "./unreadable";

test.each([
  ["GET", "/songs/a%20b?x=%F0", null],
  ["POST", "/api/songs", null],
  ["TRACE", "/api/songs", 405],
  ["CONNECT", "/", 405],
  ["GET", "/songs/%F0%28%8C%28", 400],
  ["GET", "/songs/%", 400],
  ["GET", "/songs/a%00b", 400],
])("%s %s is answered with %s before anything looks at it", (method, url, status) => {
  expect(unreadable(method, url)?.status ?? null).toBe(status);
});
