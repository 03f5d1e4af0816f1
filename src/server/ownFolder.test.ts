import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { sweepOwnFolders, withOwnFolder } from "./ownFolder";

const root = mkdtempSync(join(tmpdir(), "jubo-test-folders-"));
afterAll(() => rmSync(root, { recursive: true }));
/** The id of a process that has ended. */
const ended = spawnSync(process.execPath, ["-e", ""]).pid;

/** A folder with a file in it, both last written so many hours ago. */
function folder(name: string, hoursAgo: number): string {
  const path = join(root, name);
  mkdirSync(join(path, "stems"), { recursive: true });
  writeFileSync(join(path, "stems", "kit.wav"), "half a kit");
  const at = Date.now() / 1000 - 3600 * hoursAgo;
  for (const inner of ["stems/kit.wav", "stems", "."]) utimesSync(join(path, inner), at, at);
  return path;
}

describe("folders for what is made before it is stored", () => {
  test("go with the work, also where it fails", async () => {
    let path = "";
    const work = withOwnFolder(async (own) => {
      path = own;
      writeFileSync(join(own, "kit.wav"), "");
      expect(existsSync(path)).toBe(true);
      throw new Error("it broke");
    });
    await expect(work).rejects.toThrow("it broke");
    expect(existsSync(path)).toBe(false);
  });

  test("of a process that was killed are swept; those at work, and what is not ours, stay", async () => {
    // As folders are called here, but for the process.
    const mine = await withOwnFolder(async (own) => basename(own));
    const dead = folder(mine.replace(`-${process.pid}-`, `-${ended}-`), 0);
    const old = folder(`jubo-own-elsewhere-${process.pid}-abcdef`, 30);
    const stay = [
      folder(mine, 1),
      folder(`jubo-own-elsewhere-${ended}-abcdef`, 20),
      folder("jubo-own-notes", 100),
      folder("somebody-else", 100),
    ];
    // The folder itself is old, but something is still written in it.
    const busy = folder(`jubo-own-elsewhere-${ended}-busy01`, 30);
    writeFileSync(join(busy, "stems", "kit.wav"), "more of the kit");
    expect(await sweepOwnFolders(root)).toBe(2);
    expect([dead, old].map(existsSync)).toEqual([false, false]);
    expect([...stay, busy].map(existsSync)).toEqual([true, true, true, true, true]);
  });
});
