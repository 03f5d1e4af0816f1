import { expect, test } from "@jest/globals";
import { withDatabase } from "../testing/database";
import { pool } from "../db/pool";
import { wakeWorkers, whenWoken } from "./wakeWorkers";

const until = async (done: () => boolean): Promise<void> => {
  for (let n = 0; n < 100 && !done(); n++) await new Promise((r) => setTimeout(r, 50));
};

withDatabase("workers that are woken", () => {
  test("hear of every task, until they stop listening", async () => {
    let woken = 0;
    const stop = whenWoken(process.env["DATABASE_URL"]!, () => woken++);
    const call = setInterval(() => void wakeWorkers(pool()), 50);
    await until(() => woken > 1);
    clearInterval(call);
    expect(woken).toBeGreaterThan(1);
    await stop();
    const heard = woken;
    await wakeWorkers(pool());
    await new Promise((r) => setTimeout(r, 200));
    expect(woken).toBe(heard);
  });
  test("go on without it where nobody answers", async () => {
    const stop = whenWoken("postgres://jubo@127.0.0.1:1/jubo", () => {});
    await new Promise((r) => setTimeout(r, 100));
    await stop();
  });
});
