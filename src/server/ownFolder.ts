import { mkdtemp, readdir, rm, stat } from "node:fs/promises";
import { hostname, tmpdir } from "node:os";
import { join } from "node:path";
import { log } from "./log";

/** Folders of other machines, or of processes that cannot be told from ours, go when nothing was written in them for so long, ms. */
const idleMost = 86400_000;
/** A machine's name as part of a file's. */
const here = (): string => hostname().replace(/[^\w.]/g, "_");
/** What they are called: the machine, the process, and what tells them apart. */
const named = /^jubo-own-([\w.]+)-(\d+)-\w+$/;

/** Has a folder of its own for something that is made before it is stored; it goes when that ends, however it ends. */
export async function withOwnFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), `jubo-own-${here()}-${process.pid}-`));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** True where a process of this machine has that id, whoever's it is. */
function lives(id: number): boolean {
  try {
    process.kill(id, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code !== "ESRCH";
  }
}

async function idleMs(folder: string): Promise<number> {
  const files = await readdir(folder, { recursive: true });
  const written = await Promise.all([folder, ...files.map((f) => join(folder, f))].map((f) => stat(f)));
  return Date.now() - Math.max(...written.map((s) => s.mtimeMs));
}

/** Takes the folders away whose process was killed; tells how many. */
export async function sweepOwnFolders(root = tmpdir()): Promise<number> {
  let gone = 0;
  for (const name of await readdir(root)) {
    const [, machine, id] = named.exec(name) ?? [];
    if (!id) continue;
    const folder = join(root, name);
    try {
      const orphan = machine === here() && !lives(Number(id));
      if (!orphan && (await idleMs(folder)) < idleMost) continue;
      await rm(folder, { recursive: true, force: true });
      gone++;
    } catch (error) {
      // Another's sweep was first, or it is another user's.
      log.debug({ folder, error: (error as Error).message }, "folder not swept");
    }
  }
  return gone;
}

/** Sweeps without anybody waiting for it; what fails is tried again by the next. */
export const sweepOwnFoldersSoon = (): void =>
  void sweepOwnFolders().then(
    (count) => count > 0 && log.info({ count }, "folders of processes that were killed are gone"),
    (error: Error) => log.warn({ error: error.message }, "folders"),
  );
