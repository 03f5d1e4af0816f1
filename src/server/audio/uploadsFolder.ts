import { join } from "node:path";

/** Where parts of files lie until the file is whole; what is whole goes into the database. */
export const uploadsFolder = (): string =>
  process.env["JUBO_UPLOADS"] ?? join(/*turbopackIgnore: true*/ process.cwd(), "data", "uploads");
