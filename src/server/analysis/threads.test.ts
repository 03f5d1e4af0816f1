import { afterAll, describe, expect, test } from "@jest/globals";
import { runHere } from "../../core/analysis/micTasks";
import { energiesHere } from "../../core/hits/bandEnergies";
import { noise } from "../../core/testing/signals";
import { everyHalfSecond, strokes } from "../../core/testing/strokes";
import { analysisThreads } from "./threads";

const sampleRate = 48000;
const signals = [1, 2, 3, 4, 5].map((seed) => strokes(2 * sampleRate, everyHalfSecond(3), seed));
const energies = signals.map((x) => ({ channels: [x], sampleRate }));

// scripts/test.sh builds the thread's entry before the unit tests; without it everything would run on this thread.
describe("analysis threads", () => {
  const threads = analysisThreads(2);
  afterAll(() => threads.close());

  test("answers are those of one thread, in the order of the asks, and each is told", async () => {
    const told: number[] = [];
    const apart = await threads.run("energies", energies, (count) => told.push(count));
    const here = await runHere("energies", energies);
    expect(told).toEqual([1, 2, 3, 4, 5]);
    apart.forEach((a, i) =>
      energiesHere(a).energy.forEach((e, band) => {
        expect(e.length).toBe(here[i]!.energy[band]!.length);
        expect(e.every((v, t) => v === here[i]!.energy[band]![t])).toBe(true);
      }),
    );
  });
  test("another kind of task on the same threads", async () => {
    const asks = [{ channels: [noise(sampleRate, 3, 0.01)], start: 0, sampleRate }];
    const [apart] = await threads.run("look", asks);
    expect(apart).toEqual((await runHere("look", asks))[0]);
  });
  test("what has time gives way to what is waited for, and is all done in the end", async () => {
    const looks = Array.from({ length: 12 }, (_, i) => ({
      channels: [noise(sampleRate, i)],
      start: 0,
      sampleRate,
    }));
    const done: string[] = [];
    const beside = threads.runBeside("look", looks, () => done.push("beside"));
    const asked = threads.run("energies", energies, () => done.push("asked"));
    await Promise.all([beside, asked]);
    expect(done.filter((d) => d === "beside")).toHaveLength(12);
    // One that had begun; then none until the last of what is waited for is under way.
    expect(done.slice(0, 5).filter((d) => d === "asked").length).toBeGreaterThanOrEqual(4);
    expect(await beside).toEqual(await runHere("look", looks));
  });
  test("what is told may stop the work by throwing", async () => {
    const stop = (count: number) => {
      if (count === 2) throw new Error("stopped by its owner");
    };
    await expect(threads.run("energies", energies, stop)).rejects.toThrow("stopped by its owner");
  });
  test("closing in the middle of a task ends it with an error", async () => {
    const own = analysisThreads(2);
    const running = own.run("energies", energies);
    running.catch(() => {});
    await own.close();
    await expect(running).rejects.toThrow("a thread ended");
  });
});
