import { afterAll, beforeAll, expect, test } from "@jest/globals";
import type PgBoss from "pg-boss";
import { pool } from "../db/pool";
import { insertTask } from "../db/queries/task";
import { withOwnDatabase } from "../testing/database";
import { createSong } from "../useCases/createSong";
import { queueName, startBoss, startTask } from "./queue";
import { revive } from "./revive";

const shared = globalThis as unknown as { juboBoss?: Promise<PgBoss> };

withOwnDatabase("revive_test", "tasks that nobody works on are put back into the queue", () => {
  let boss: PgBoss;
  let song: string;
  beforeAll(async () => {
    boss = await startBoss(process.env["DATABASE_URL"]!, true);
    song = await createSong("revive");
  });
  afterAll(async () => {
    await boss.stop({ graceful: false });
    await (await shared.juboBoss)?.stop({ graceful: false });
  });
  const taken = async (): Promise<string | undefined> =>
    (await boss.fetch<{ taskId: string }>(queueName))[0]?.data.taskId;
  const age = (id: string) =>
    pool().query("update task set created_at = created_at - interval '1 minute' where id = $1", [id]);

  test("its worker died after it took it out of the queue and before it took it up", async () => {
    const { id } = await startTask(song, "analyse", {});
    expect(await taken()).toBe(id);
    await revive(boss);
    expect(await taken()).toBeUndefined(); // it may just be taking it up
    await age(id);
    await revive(boss);
    expect(await taken()).toBe(id);
    await pool().query("update task set state = 'done' where id = $1", [id]);
  });
  test("whoever started it died before it was queued", async () => {
    const { id } = await insertTask(pool(), song, "analyse", {});
    await age(id);
    await revive(boss);
    expect(await taken()).toBe(id);
    await pool().query("update task set state = 'done' where id = $1", [id]);
  });
  test("its worker died over it: its heart has not beaten for long", async () => {
    const { id } = await startTask(song, "analyse", {});
    expect(await taken()).toBe(id);
    await pool().query(
      "update task set state = 'running', heartbeat_at = now() - interval '1 minute' where id = $1",
      [id],
    );
    await revive(boss);
    expect(await taken()).toBe(id);
    await pool().query("update task set state = 'done' where id = $1", [id]);
  });
  test("one that waits its turn lies there once, however often one looks", async () => {
    const { id } = await startTask(song, "analyse", {});
    await age(id);
    await revive(boss);
    await revive(boss);
    expect(await boss.getQueueSize(queueName)).toBe(1);
    expect(await taken()).toBe(id);
    expect(await taken()).toBeUndefined();
    await pool().query("update task set state = 'done' where id = $1", [id]);
  });
});
