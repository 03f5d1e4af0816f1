import { spawn, type ChildProcess } from "node:child_process";
import { existsSync } from "node:fs";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { findTask, type TaskRow } from "../db/queries/task";
import { findFile } from "../db/queries/file";
import { pool } from "../db/pool";
import { bring, wavOf, withDatabase } from "../testing/database";
import { createSong } from "../useCases/createSong";
import { startTask } from "./queue";

const workers: ChildProcess[] = [];
/** Starts a worker as it runs on any machine; resolves when it takes tasks. */
function startWorker(): Promise<void> {
  const child = spawn(process.execPath, ["dist/cli.mjs", "worker"], {
    stdio: ["ignore", "inherit", "pipe"],
    env: { ...process.env, NODE_ENV: "production" }, // in a test it would say nothing
  });
  workers.push(child);
  return new Promise((resolve, reject) => {
    child.on("exit", () => reject(new Error("the worker ended")));
    child.stderr.on("data", (text: Buffer) => text.includes("worker ready") && resolve());
  });
}

// scripts/test.sh builds the command line before the unit tests.
const built = existsSync("dist/cli.mjs") ? withDatabase : () => {};
built("three workers on one queue", () => {
  beforeAll(async () => {
    await Promise.all([startWorker(), startWorker(), startWorker()]);
  }, 60_000);
  afterAll(() => workers.forEach((w) => w.kill()));

  test("work on three songs at once, on each once, and end the same as one", async () => {
    const songs: string[] = [];
    for (const n of [1, 2, 3]) {
      const song = await createSong(`several workers ${n}`);
      // The same audio, so that the same kit must come out.
      for (const [i, name] of ["Kick.wav", "Snare.wav", "OH L.wav", "OH R.wav"].entries())
        await bring(song, name, wavOf(48000 * 30, 7 + i));
      songs.push(song);
    }
    const tasks = await Promise.all(songs.map((song) => startTask(song, "export", { format: "wav24" })));
    let together = 0;
    const now = async (): Promise<TaskRow[]> =>
      Promise.all(tasks.map(async ({ id }) => (await findTask(pool(), id))!));
    for (let all = await now(); all.some((t) => t.state !== "done"); all = await now()) {
      expect(all.every((t) => ["waiting", "running", "done"].includes(t.state))).toBe(true);
      together = Math.max(together, all.filter((t) => t.state === "running").length);
      await new Promise((r) => setTimeout(r, 20));
    }
    expect(together).toBe(3);
    const turns = await pool().query<{ attempts: number }>("select attempts from task where id = any($1)", [
      tasks.map((t) => t.id),
    ]);
    expect(turns.rows.map((r) => r.attempts)).toEqual([1, 1, 1]);
    const kits = (await now()).map((t) => {
      const { files } = t.result as { files: { id: string; name: string }[] };
      return files.find((f) => f.name.endsWith(".wav"))!.id;
    });
    const made = await Promise.all(
      kits.map(async (id) => (await findFile(pool(), id))!.sha256.toString("hex")),
    );
    expect(new Set(made).size).toBe(1);
  });
});
