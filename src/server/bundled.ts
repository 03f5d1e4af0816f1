import { existsSync } from "node:fs";
import { dirname, join } from "node:path";

/** A bundled entry of a thread: beside the command line, or in the project's build; null where nothing was built. */
export function bundledFile(name: string): string | null {
  const beside = join(dirname(process.argv[1] ?? "."), name);
  return [beside, join(process.cwd(), "dist", name)].find((f) => existsSync(f)) ?? null;
}
