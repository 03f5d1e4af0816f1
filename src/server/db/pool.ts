import pg from "pg";

/** A pool or one client in a transaction. */
export type Db = Pick<pg.ClientBase, "query">;

// The development server loads modules anew; the pool must not multiply.
const shared = globalThis as unknown as { juboPool?: pg.Pool };

/**
 * Connections to the database at DATABASE_URL, made at first use.
 * Errors  Error when DATABASE_URL is not set.
 */
export function pool(): pg.Pool {
  if (!shared.juboPool) {
    const connectionString = process.env["DATABASE_URL"];
    if (!connectionString) throw new Error("DATABASE_URL is not set");
    shared.juboPool = new pg.Pool({ connectionString, max: 12, idleTimeoutMillis: 30000 });
    // An idle connection that the server closes is replaced at the next query.
    shared.juboPool.on("error", () => {});
  }
  return shared.juboPool;
}

/** A connection of the pool. Its loss may come in the same breath as itself, so that `lost` hears of it from the first moment on. */
const connected = (from: pg.Pool, lost: (error: Error) => void): Promise<pg.PoolClient> =>
  new Promise((resolve, reject) =>
    from.connect((error, client) => {
      client?.on("error", lost);
      if (client) resolve(client);
      else reject(error ?? new Error("the database gave no connection"));
    }),
  );

/** Runs work on one connection: the one that is given, or one of the pool's. `giveUp` has it not used again. */
export async function withClient<T>(
  db: Db,
  work: (client: Db, giveUp: (reason: Error) => void) => Promise<T>,
): Promise<T> {
  if (!(db instanceof pg.Pool)) return work(db, () => {});
  let broken: Error | undefined;
  // A connection that the database ends while nothing is asked would otherwise end this program.
  const lost = (error: Error): void => void (broken = error);
  const client = await connected(db, lost);
  try {
    return await work(client, lost);
  } finally {
    client.off("error", lost);
    client.release(broken);
  }
}

/** Runs work in one transaction: all of it or nothing. */
export const inTransaction = <T>(work: (db: Db) => Promise<T>): Promise<T> =>
  withClient(pool(), async (client, giveUp) => {
    await client.query("begin");
    try {
      const result = await work(client);
      await client.query("commit");
      return result;
    } catch (error) {
      await client.query("rollback").catch(giveUp);
      throw error;
    }
  });
