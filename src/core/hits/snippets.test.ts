import { describe, expect, test } from "@jest/globals";
import { cutSnippets, spreadOver } from "./snippets";

describe("at most so many of a list, spread over it", () => {
  const list = Array.from({ length: 62 }, (_, i) => i);
  test("short lists come back whole", () => {
    expect(spreadOver(list, 62)).toEqual(list);
    expect(spreadOver(list, 100)).toEqual(list);
    expect(spreadOver([], 5)).toEqual([]);
  });
  test("of long ones each part has its share, the first among them", () => {
    const few = spreadOver(list, 12);
    expect(few).toHaveLength(12);
    expect(new Set(few).size).toBe(12);
    expect(few[0]).toBe(0);
    for (let i = 1; i < 12; i++) expect([5, 6]).toContain(few[i]! - few[i - 1]!);
  });
});
test("snippets that reach beyond the recording are left out", () => {
  const x = Float32Array.from({ length: 100 }, (_, i) => i);
  const cut = cutSnippets(x, [0.1, 0.5, 0.95], -0.2, 0.1, 100);
  expect(cut).toHaveLength(1);
  expect([cut[0]![0], cut[0]!.length]).toEqual([30, 30]);
});
