import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { checkRoomFor, room, spoolFor } from "./room";

const folder = mkdtempSync(join(tmpdir(), "jubo-room-"));
beforeAll(() => {
  process.env["JUBO_UPLOADS"] = folder;
});
afterAll(() => {
  delete process.env["JUBO_UPLOADS"];
  rmSync(folder, { recursive: true });
});

test("a file that the disk has no room for is refused before a byte of it is sent, with figures", async () => {
  const { diskFree } = await room();
  expect(diskFree).toBeGreaterThan(0);
  await expect(checkRoomFor("Kick.wav", 1000)).resolves.toBeUndefined();
  await expect(checkRoomFor("Rehearsal.wav", diskFree)).rejects.toThrow(
    /^Rehearsal.wav needs [\d.]+ GB on the disk while it comes in, and [\d.]+ GB are free. Nothing was changed/,
  );
});

test("decoded audio that memory holds needs no spool; what the disk has no room for is refused with figures", async () => {
  expect(await spoolFor(1000, 1000)).toBeNull();
  const spool = await spoolFor(1000, 999);
  expect(spool).not.toBeNull();
  await spool!.close();
  const { diskFree } = await room();
  await expect(spoolFor(diskFree, 0)).rejects.toThrow(
    /audio lies decoded on the disk: [\d.]+ GB are needed, and [\d.]+ GB are free. Nothing was changed/,
  );
});
