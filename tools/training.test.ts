import { describe, expect, test } from "@jest/globals";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { kept, originOf, trainingArguments, worldOf } from "./training";

describe("what trainers share", () => {
  test("arguments in any order", () => {
    const read = { out: "w.json", folders: ["a-1", "b-2"], crossed: true, cache: "dir" };
    expect(trainingArguments(["w.json", "--worlds", "--cache", "dir", "a-1", "b-2"])).toEqual(read);
    expect(trainingArguments(["--cache", "dir", "w.json", "a-1", "b-2", "--worlds"])).toEqual(read);
    expect(trainingArguments(["w.json", "a-1"])).toEqual({
      out: "w.json",
      folders: ["a-1"],
      crossed: false,
      cache: undefined,
    });
  });
  test("presets of shared sessions are one world, ours bear its name", () => {
    expect(["/x/hard-11", "auto-3", "own-hard-21", "recorded-1"].map(worldOf)).toEqual([
      "shared",
      "shared",
      "own",
      "recorded",
    ]);
    expect(originOf("tools/x.ts", [{ world: "a" }, { world: "b" }, { world: "a" }])).toBe(
      'tools/x.ts on 2 sessions of the world "a", 1 sessions of the world "b"',
    );
  });
  test("a session is looked at once; typed arrays come back as they were", async () => {
    const folder = mkdtempSync(join(tmpdir(), "jubo-kept-"));
    let made = 0;
    const make = async () => ({ values: Float64Array.of(1, ++made) });
    try {
      for (let i = 0; i < 2; i++)
        expect(await kept(folder, "a", make)).toEqual({ values: Float64Array.of(1, 1) });
      expect(made).toBe(1);
      await kept(undefined, "a", make);
      expect(made).toBe(2);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
