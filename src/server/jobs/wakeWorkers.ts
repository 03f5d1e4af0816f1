import pg from "pg";
import type { Db } from "../db/pool";

const channel = "jubo_task";
/** A connection that was lost is made anew after so long, ms; tasks are seen by looking meanwhile. */
const again = 5000;

/** Tells all workers that there is something to do, so that none waits for its next look. */
export async function wakeWorkers(db: Db): Promise<void> {
  await db.query(`notify ${channel}`);
}

/** Calls back whenever there is something to do. Returns how to stop it; then the connection is closed. */
export function whenWoken(connectionString: string, wake: () => void): () => Promise<void> {
  let ended = false;
  let client: pg.Client | null = null;
  const listen = async (): Promise<void> => {
    client = new pg.Client({ connectionString });
    client.on("notification", wake);
    client.on("error", () => {}); // told by its end
    client.on("end", () => {
      if (ended) return;
      setTimeout(() => void (ended || listen().catch(() => {})), again).unref();
    });
    await client.connect();
    await client.query(`listen ${channel}`);
  };
  void listen().catch(() => {}); // it is woken by looking only
  return async () => {
    ended = true;
    await client?.end().catch(() => {});
  };
}
