import { describe, expect, test } from "@jest/globals";
import { askAll, Desk } from "./thread";

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A thread that takes `ms` for an answer and cannot be asked twice at once. */
function worker(ms: number, asked: number[]) {
  let busy = false;
  return {
    ask: async (n: number) => {
      if (busy) throw new Error("asked while it was busy");
      busy = true;
      asked.push(n);
      await pause(ms);
      busy = false;
      if (n === 13) throw new Error("13 is too much");
      return 10 * n;
    },
  };
}

describe("questions spread over threads", () => {
  test("answers come in the order of the questions, however slow a thread is; the quick one does more", async () => {
    const [slow, quick]: [number[], number[]] = [[], []];
    const told: number[] = [];
    const found = await askAll([worker(60, slow), worker(2, quick)], [1, 2, 3, 4, 5, 6], (n) => told.push(n));
    expect(found).toEqual([10, 20, 30, 40, 50, 60]);
    expect([...slow, ...quick].sort()).toEqual([1, 2, 3, 4, 5, 6]);
    expect(quick.length).toBeGreaterThan(slow.length);
    expect(told).toEqual([1, 2, 3, 4, 5, 6]);
  });
  test("one that fails ends the rest of its thread's questions and fails the whole", async () => {
    const asked: number[] = [];
    await expect(askAll([worker(1, asked)], [1, 13, 3])).rejects.toThrow("13 is too much");
    expect(asked).toEqual([1, 13]);
  });
  test("nothing to ask is answered by nothing", async () => {
    expect(await askAll([worker(1, [])], [])).toEqual([]);
  });
});

test("what is waited for goes before what has time, also where each is only asked when the one before is answered", async () => {
  const order: string[] = [];
  const desk = new Desk<string, string>([
    {
      ask: async (message) => {
        order.push(message);
        await new Promise((resolve) => setTimeout(resolve, 2));
        return message;
      },
    },
  ]);
  const lane = (waits: "urgent" | "later") => ({ ask: (message: string) => desk.ask(message, waits) });
  await Promise.all([
    askAll([lane("later")], ["later 1", "later 2", "later 3"]),
    askAll([lane("urgent")], ["urgent 1", "urgent 2", "urgent 3"]),
  ]);
  expect(order).toEqual(["later 1", "urgent 1", "urgent 2", "urgent 3", "later 2", "later 3"]);
});
