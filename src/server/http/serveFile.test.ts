import { expect, test } from "@jest/globals";
import { rangeOf } from "./serveFile";

// RFC 9110, section 14.1.2: examples for a representation of 10000 bytes; the end is exclusive here.
test.each([
  ["bytes=0-499", { from: 0, to: 500 }],
  ["bytes=500-999", { from: 500, to: 1000 }],
  ["bytes=-500", { from: 9500, to: 10000 }],
  ["bytes=9500-", { from: 9500, to: 10000 }],
  ["bytes=9000-20000", { from: 9000, to: 10000 }],
  ["bytes=-20000", { from: 0, to: 10000 }],
  ["bytes=10000-", "unsatisfiable"],
  ["bytes=500-499", "unsatisfiable"],
  ["bytes=0-0,-1", null], // several ranges: the whole is sent
  ["lines=1-2", null],
  ["bytes=-", null],
  [null, null],
] as const)("%s", (header, wanted) => {
  expect(rangeOf(header, 10000)).toEqual(wanted);
});
