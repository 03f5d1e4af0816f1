import { describe, expect, test } from "@jest/globals";
import {
  both,
  byField,
  flag,
  list,
  object,
  oneOf,
  orNull,
  param,
  record,
  text,
  whole,
  within,
  type Check,
} from "./schema";

const refusal = (check: Check, value: unknown): string | null => {
  try {
    check(value, "it");
    return null;
  } catch (error) {
    expect(error instanceof RangeError || error instanceof TypeError).toBe(true);
    return (error as Error).message;
  }
};
/** Values of every kind, each a stranger to most checks. */
const strangers = [
  undefined,
  null,
  NaN,
  Infinity,
  -Infinity,
  "",
  "x",
  [],
  [1],
  {},
  { a: 1 },
  true,
  1e300,
  -1e300,
  () => 1,
];

describe("checks refuse what they do not declare, and say where, what and what is allowed", () => {
  const cases: [string, Check, unknown[], unknown[], RegExp][] = [
    [
      "a number in a range",
      within(-3, 4, "dB"),
      [-3, 0, 4],
      [-3.01, 4.01, "1"],
      /^it is .*; it must be a number between -3 and 4 dB$/,
    ],
    ["a whole number", whole(0, 9), [0, 9], [-1, 10, 1.5, 2 ** 60], /whole number between 0 and 9/],
    ["a declared parameter", param({ min: 1, max: 2, unit: "s" }), [1, 2], [0.99, 2.01], /between 1 and 2 s/],
    ["a switch", flag, [true, false], [0, 1, "true"], /must be true or false/],
    ["a text", text(5, 2), ["ab", "abcde"], ["a", "abcdef", "    ", 12], /a text of 2 to 5 characters/],
    ["a text that may be empty", text(3), ["", "abc"], ["abcd"], /a text of at most 3 characters/],
    [
      "one of some names",
      oneOf(["kick", "snare"]),
      ["kick"],
      ["Kick", "constructor", 0],
      /one of kick, snare/,
    ],
    ["a value or null", orNull(flag), [null, true], [undefined, 0], /must be true or false/],
    [
      "a list",
      list(flag, 3, 1),
      [[true], [true, false, true]],
      [[], [true, true, true, true], [0], "ab", { length: 1 }],
      /^it/,
    ],
    [
      "values by name",
      record(text(3), flag, 2),
      [{}, { a: true }],
      [{ a: 1 }, { abcd: true }, { a: true, b: true, c: true }, [true], null],
      /it/,
    ],
    [
      "an object",
      object({ a: flag }, { b: whole(0, 1) }),
      [{ a: true }, { a: false, b: 1 }],
      [{}, { b: 1 }, { a: true, c: 1 }, { a: true, b: 2 }, [], null],
      /it/,
    ],
    [
      "one of several shapes",
      byField("op", { on: object({ op: text(5), a: flag }), off: object({ op: text(5) }) }),
      [{ op: "off" }, { op: "on", a: true }],
      [{ op: "on" }, { op: "toString" }, { op: 1 }, {}, null, "on"],
      /it/,
    ],
    ["several checks", both(whole(0, 100), within(10, 20)), [10, 20], [9, 21, 10.5], /it is/],
  ];
  test.each(cases)("%s", (_, check, good, bad, words) => {
    for (const value of good) expect(refusal(check, value)).toBeNull();
    for (const value of bad) expect(refusal(check, value)).toMatch(words);
  });
  test.each(cases)("%s: strangers are refused or belong to it, and nothing else is thrown", (_, check) => {
    for (const value of strangers) refusal(check, value);
    expect(strangers.filter((v) => refusal(check, v) === null).length).toBeLessThan(4);
  });
});

describe("where it lies", () => {
  const song = object({
    mics: list(object({ file: text(40), level: within(-10, 10) }), 5),
    plan: record(text(9), list(whole(0, 9), 2), 3),
  });
  const whatIs = (value: unknown) => refusal(song, value);
  test("is told down to the entry, by name where it has one", () => {
    expect(
      whatIs({
        mics: [
          { file: "Kick.wav", level: 0 },
          { file: "Hat.wav", level: 99 },
        ],
        plan: {},
      }),
    ).toBe("it.mics[1] (Hat.wav).level is 99; it must be a number between -10 and 10");
    expect(whatIs({ mics: [], plan: { hat: [1, 2.5] } })).toBe(
      "it.plan.hat[1] is 2.5; it must be a whole number between 0 and 9",
    );
    expect(whatIs({ mics: [{ level: 1 }], plan: {} })).toBe("it.mics[0] lacks file");
    expect(whatIs({ mics: [], plan: {}, extra: 1 })).toBe('it has an unknown field "extra"');
  });
  test("what is long is cut, so that a message stays one line", () => {
    const message = whatIs({ mics: "x".repeat(5000), plan: {} })!;
    expect(message.length).toBeLessThan(120);
    expect(message).toContain("…");
  });
  test("names of the language's own are no fields", () => {
    for (const name of ["__proto__", "constructor", "toString", "hasOwnProperty"])
      expect(whatIs(JSON.parse(`{"mics":[],"plan":{},"${name}":{}}`))).toContain(`unknown field "${name}"`);
  });
});
