import { readdirSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Db } from "./pool";

const migrations = "src/server/db/migrations";
/** Where they lie: beside the bundle that runs, or in the folder one works in. */
const folders = [join(dirname(process.argv[1] ?? "."), "..", migrations), join(process.cwd(), migrations)];

/** Number of the newest migration that this program knows. */
export function newestKnown(): number {
  for (const folder of folders) {
    try {
      return Math.max(
        ...readdirSync(folder)
          .map((f) => Number.parseInt(f, 10))
          .filter(Number.isFinite),
      );
    } catch {
      // not laid out so
    }
  }
  throw new Error("the migrations are not where they should be");
}

/** A program and the database that it works on do not fit. */
export class OtherVersion extends Error {
  override readonly name = "OtherVersion";
}

/** Errors  OtherVersion in words where the database is of another version than this program: its work would not fit. */
export async function checkVersion(db: Db, known = newestKnown()): Promise<void> {
  const { rows } = await db.query<{ newest: number }>(
    "select max(version)::int as newest from schema_version",
  );
  const newest = rows[0]?.newest ?? 0;
  if (newest > known)
    throw new OtherVersion(
      `this worker is of an older version than the database (${known}, not ${newest}): bring it up to date, then start it again`,
    );
  if (newest < known)
    throw new OtherVersion(
      `the database is of an older version (${newest}, not ${known}): start the application once, which brings it up to date`,
    );
}
