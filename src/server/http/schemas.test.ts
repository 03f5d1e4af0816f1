import { describe, expect, test } from "@jest/globals";
import type Joi from "joi";
import { newProcessor } from "../../core/song/create";
import { AppError } from "../errors";
import { guarded, idOf, jsonBody, respond, valid } from "./respond";
import * as schemas from "./schemas";

const id = "3f0c1a52-7a0e-4c1c-9d55-0f7f6c1b2a3d";
const said = (schema: Joi.Schema, value: unknown): string | null => {
  try {
    valid(schema, value);
    return null;
  } catch (error) {
    expect(error).toBeInstanceOf(AppError);
    expect((error as AppError).code).toBe("invalid");
    expect((error as Error).message).toMatch(
      /^The request is not as it should be: .*\. Nothing was changed\.$/s,
    );
    return (error as Error).message;
  }
};

describe("what is asked of the server", () => {
  const edit = {
    version: 3,
    label: "Kick down",
    operation: { op: "setMic", mic: "m1", values: { level: -3 } },
  };
  const audio = { ids: [id], starts: [0], from: 0, count: 2048 };
  const cases: [string, Joi.Schema, unknown, unknown[]][] = [
    [
      "a change",
      schemas.editSchema,
      edit,
      [
        { ...edit, version: "3" },
        { ...edit, version: -1 },
        { ...edit, label: "  " },
        { ...edit, label: "x".repeat(201) },
        { ...edit, operation: undefined },
        { ...edit, operation: { op: "setMic", mic: "m1", values: { frames: 9 } } },
        { ...edit, operation: { op: "addMics", mics: [] } },
        { ...edit, more: 1 },
        null,
        [],
      ],
    ],
    [
      "a step of history",
      schemas.historySchema,
      { version: 0, direction: "undo" },
      [{ version: 0, direction: "back" }, { version: 1.5, direction: "undo" }, { direction: "redo" }],
    ],
    [
      "a song",
      schemas.createSchema,
      { title: "Take 3" },
      [{ title: "" }, { title: 3 }, {}, { title: "a", id }],
    ],
    [
      "audio of many mics",
      schemas.sideBySideSchema,
      audio,
      [
        { ...audio, ids: [] },
        { ...audio, ids: ["../etc"] },
        { ...audio, ids: new Array(65).fill(id) },
        { ...audio, count: 131073 },
        { ...audio, count: 0 },
        { ...audio, from: -1 },
        { ...audio, starts: [2 ** 41] },
        { ...audio, starts: [0.5] },
      ],
    ],
    [
      "an upload",
      schemas.uploadSchema,
      { name: "Kick.wav", bytes: 100, mark: "1" },
      [
        { name: "", bytes: 1, mark: "" },
        { name: "a", bytes: 2 ** 40, mark: "" },
        { name: "a", bytes: -1, mark: "" },
        { name: "a", bytes: "1", mark: "" },
      ],
    ],
    [
      "a chain that is kept",
      schemas.keptChainSchema,
      { name: "Mine", chain: [newProcessor("x", "eq")] },
      [
        { name: "Mine", chain: [{ id: "x", type: "magic", on: true, params: {} }] },
        { name: "", chain: [] },
        { name: "Mine", chain: new Array(40).fill(newProcessor("x", "eq")) },
      ],
    ],
    [
      "an analysis",
      schemas.taskSchema,
      { kind: "analyse", options: {} },
      [
        { kind: "cook", options: {} },
        { kind: "analyse" },
        { kind: "export", options: { format: "mp3" } },
        { kind: "clock", options: { mics: [] } },
      ],
    ],
    [
      "a tightening",
      schemas.taskSchema,
      { kind: "tighten", options: { label: "x", version: 1, values: {} } },
      [
        { kind: "tighten", options: { label: "x", values: {} } },
        { kind: "tighten", options: { label: "x", version: 1, values: { title: "y" } } },
      ],
    ],
    ["a place in the past", schemas.pastSchema, 12, [-1, 1.5, "12", undefined, 1e12]],
  ];
  test.each(cases)(
    "%s: as it should be it is taken, otherwise refused with words",
    (_, schema, good, bad) => {
      expect(said(schema, good)).toBeNull();
      for (const value of bad) expect(said(schema, value)).not.toBeNull();
    },
  );
  test("the words name the field, its value and what is allowed, as the core has them", () => {
    const loud = { ...edit, operation: { op: "setMic", mic: "m1", values: { level: 99 } } };
    expect(said(schemas.editSchema, loud)).toMatch(/level is 99; it must be a number between -100 and 24 dB/);
  });
});

describe("answers", () => {
  test("what work gives is told as JSON; an answer of its own stays as it is", async () => {
    expect(await (await respond(async () => ({ a: 1 }))).json()).toEqual({ a: 1 });
    expect((await respond(async () => new Response("x", { status: 206 }))).status).toBe(206);
  });
  test.each([
    ["not_found", 404],
    ["invalid", 400],
    ["stale", 409],
    ["too_large", 413],
    ["refused", 403],
    ["conflict", 409],
  ] as const)("%s is told by status %d with its words", async (code, status) => {
    const answer = await respond(async () => {
      throw new AppError(code, "In words.");
    });
    expect([answer.status, await answer.json()]).toEqual([status, { code, message: "In words." }]);
  });
  test("what is our own fault tells nothing of the inside", async () => {
    const answer = await respond(async () => {
      throw new Error("password of the database");
    });
    const body = (await answer.json()) as { code: string; message: string };
    expect([answer.status, body.code]).toEqual([500, "internal"]);
    expect(body.message).not.toContain("password");
    expect(body.message).toContain("What was saved is safe");
  });
  test("large bodies are guarded before anything is done", async () => {
    let done = false;
    const foreign = new Request("http://127.0.0.1/api", {
      method: "POST",
      headers: { host: "evil.example" },
    });
    const answer = await guarded(foreign, async () => ({ done: (done = true) }));
    expect([answer.status, done]).toEqual([421, false]);
  });
  test.each(["..", "1", `${id}x`, "%00", "3f0c1a52-7a0e-1c1c-9d55-0f7f6c1b2a3d", ""])(
    "%j is no id",
    async (text) => {
      await expect(idOf(Promise.resolve({ id: text }))).rejects.toThrow("There is nothing with this id.");
    },
  );
  test("an id is told, and bodies are JSON up to a size", async () => {
    expect(await idOf(Promise.resolve({ id }))).toBe(id);
    const body = (text: string) => new Request("http://x/", { method: "POST", body: text });
    expect(await jsonBody(body('{"a":[1]}'))).toEqual({ a: [1] });
    await expect(jsonBody(body("{a}"))).rejects.toThrow("The request is not JSON");
    await expect(jsonBody(body(`"${"x".repeat(200)}"`), 100)).rejects.toThrow("more than 100 bytes");
  });
});
