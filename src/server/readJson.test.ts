import { describe, expect, test } from "@jest/globals";
import { readJson } from "./readJson";

describe("JSON from outside", () => {
  test.each([
    ['{"title":"a\\u0000b"}'],
    ['["\\ud800"]'],
    ['{"deep":[{"name":"x\\uDC00"}]}'],
    ['{"\\u0000":1}'],
    ['"\\udc00\\ud800"'],
  ])("%s is refused in words", (text) => {
    expect(() => readJson(text)).toThrow(/holds a NUL or half a character/);
  });
  test.each([
    ['"\\ud83e\\udd41"', "\u{1F941}"],
    ['"\\\\u0000"', "\\u0000"],
    ['"\\\\ud800"', "\\ud800"],
    ['{"a":[1,null,true]}', { a: [1, null, true] }],
  ])("%s is taken as it is", (text, value) => expect(readJson(text)).toEqual(value));
  test("what is no JSON is that", () => expect(() => readJson("{")).toThrow(SyntaxError));
});
