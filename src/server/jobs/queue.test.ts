import { afterAll, expect, test } from "@jest/globals";
import type PgBoss from "pg-boss";
import { pool } from "../db/pool";
import { listTasks } from "../db/queries/task";
import { withDatabase } from "../testing/database";
import { createSong } from "../useCases/createSong";
import { readTask, startTask } from "./queue";

const shared = globalThis as unknown as { juboBoss?: Promise<PgBoss> };
const database = process.env["DATABASE_URL"];
afterAll(async () => {
  process.env["DATABASE_URL"] = database;
  await (await shared.juboBoss)?.stop({ graceful: false });
});

withDatabase("the queue", () => {
  // Issue 17: one failed start was kept, and every later task waited for ever.
  test("that cannot be started fails its task with words, and is started anew for the next", async () => {
    const song = await createSong("queue");
    await pool().query("select 1"); // the store itself is there
    process.env["DATABASE_URL"] = "postgres://nobody@127.0.0.1:9/nothing";
    await expect(startTask(song, "analyse", {})).rejects.toThrow();
    const [lost] = await listTasks(pool(), song);
    expect(lost).toMatchObject({ state: "failed", message: expect.stringContaining("try again") });
    process.env["DATABASE_URL"] = database;
    const task = await startTask(song, "analyse", {});
    expect((await readTask(task.id)).state).not.toBe("cancelled");
    const { rows } = await pool().query<{ n: string }>(
      "select count(*) as n from pgboss.job where data->>'taskId' = $1",
      [task.id],
    );
    expect(Number(rows[0]!.n)).toBe(1);
  });
  test("takes nothing for a song that is gone, and knows no task that was never started", async () => {
    const nobody = "00000000-0000-4000-8000-000000000000";
    await expect(startTask(nobody, "analyse", {})).rejects.toThrow("does not exist any more");
    await expect(readTask(nobody)).rejects.toThrow("There is no such task.");
  });
});
