import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { runHere } from "../../core/analysis/micTasks";
import { noise } from "../../core/testing/signals";
import { analysisThreads } from "../analysis/threads";
import { Spool } from "./spool";

const threads = analysisThreads(2);
const folder = mkdtempSync(join(tmpdir(), "jubo-spool-"));
beforeAll(() => {
  process.env["JUBO_UPLOADS"] = folder;
});
afterAll(async () => {
  await threads.close();
  delete process.env["JUBO_UPLOADS"];
  rmSync(folder, { recursive: true });
});

test("signals come back as they were written, silent where nothing was; no file is left, whatever ends the program", async () => {
  const spool = await Spool.open();
  expect(readdirSync(folder)).toEqual([]);
  const [a, b] = [await spool.take(5000), await spool.take(3000)];
  const [x, y] = [noise(4000, 1), noise(3000, 2)];
  await spool.write(b, 0, y);
  await spool.write(a, 1000, x.subarray(0, 1500));
  await spool.write(a, 2500, x.subarray(1500));
  expect(a.subarray(1000)).toEqual(x);
  expect(a.subarray(0, 1000).every((v) => v === 0)).toBe(true);
  expect(b.subarray(0)).toEqual(y);
  expect(b.subarray(2990, 4000)).toEqual(y.subarray(2990));
  expect(b.subarray(4000, 4100)).toEqual(new Float32Array(0));
  await spool.close();
  expect(() => a.subarray(0, 10)).toThrow("EBADF");
});

test("what is put away whole, several at once, comes back each as it was", async () => {
  const spool = await Spool.open();
  const signals = [noise(3000, 4), noise(1, 5), noise(7000, 6)];
  const kept = await Promise.all(signals.map((x) => spool.keep(x)));
  expect(kept.map((x) => x.subarray(0))).toEqual(signals);
  await spool.close();
});

test("threads read it like memory", async () => {
  const spool = await Spool.open();
  const x = noise(100_000, 3);
  const spooled = await spool.take(x.length);
  await spool.write(spooled, 0, x);
  const asks = [spooled, x].map((signal) => ({ channels: [signal, signal], start: 30, sampleRate: 48000 }));
  const [there, here] = await threads.run("look", asks);
  expect(there).toEqual(here);
  expect(there).toEqual((await runHere("look", asks))[0]);
  await spool.close();
});
