import { expect, test } from "@jest/globals";
import type { Task } from "../../contract";
import { leftTold, taskTold, timeLeft } from "./timeLeft";

test("as fast as it went: a quarter in ten seconds leaves thirty", () => {
  expect(timeLeft({ at: 100, share: 0 }, { at: 110, share: 0.25 })).toBeCloseTo(30, 9);
  // Seen first when half was done: the other half counts.
  expect(timeLeft({ at: 0, share: 0.5 }, { at: 10, share: 0.75 })).toBeCloseTo(10, 9);
});

test("too early nothing is said", () => {
  expect(timeLeft({ at: 0, share: 0 }, { at: 1, share: 0.5 })).toBeNull();
  expect(timeLeft({ at: 0, share: 0.3 }, { at: 20, share: 0.3 })).toBeNull();
  expect(leftTold(null)).toBe("");
});

test("told in steps that do not jump about", () => {
  expect([4, 11, 19.5, 99, 130].map(leftTold)).toEqual([
    "some seconds left",
    "about 20 s left",
    "about 20 s left",
    "about 100 s left",
    "about 3 min left",
  ]);
});

test("whoever tells of a task tells the same, and a task that begins anew is told anew", () => {
  const task = (id: string, progress: number): Task => ({
    id,
    kind: "export",
    state: "running",
    progress,
    doing: "finishing Kick.wav, 3 of 24",
    message: "",
    result: null,
  });
  expect(taskTold(task("a", 0.1), 100)).toBe("10 %, finishing Kick.wav, 3 of 24");
  const told = "50 %, finishing Kick.wav, 3 of 24, about 20 s left";
  expect(taskTold(task("a", 0.5), 115)).toBe(told);
  expect(taskTold(task("a", 0.5), 115)).toBe(told);
  // Another worker took it over.
  expect(taskTold(task("a", 0.05), 130)).toBe("5 %, finishing Kick.wav, 3 of 24");
  expect(taskTold({ ...task("b", 0), state: "waiting" }, 131)).toBe("waits for a worker");
});
