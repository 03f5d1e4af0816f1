import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import pg from "pg";
import Postgrator from "postgrator";

/** Any number that is ours alone: only one program migrates at a time. */
const lockKey = 7217001;

/**
 * Brings the database to the newest schema; safe to run from several programs at once.
 * Errors  Error when an applied migration was changed afterwards (checksum) or the database is newer.
 */
export async function migrate(connectionString: string): Promise<number> {
  const client = new pg.Client({ connectionString });
  await client.connect();
  try {
    await client.query("select pg_advisory_lock($1)", [lockKey]);
    const here = dirname(fileURLToPath(import.meta.url));
    const postgrator = new Postgrator({
      migrationPattern: join(here, "../src/server/db/migrations/*.sql"),
      driver: "pg",
      database: client.database ?? "jubo",
      schemaTable: "schema_version",
      execQuery: (query) => client.query(query),
    });
    const applied = await postgrator.migrate();
    return applied.length;
  } finally {
    await client.end();
  }
}
