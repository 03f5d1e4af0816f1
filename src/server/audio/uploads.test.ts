import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { mkdtempSync, rmSync, utimesSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beginUpload, endUpload, findUpload, takePart, wholeUpload } from "./uploads";

const folder = mkdtempSync(join(tmpdir(), "jubo-uploads-"));
beforeAll(() => {
  process.env["JUBO_UPLOADS"] = folder;
});
afterAll(() => {
  delete process.env["JUBO_UPLOADS"];
  rmSync(folder, { recursive: true, force: true });
});
async function* body(...sizes: number[]): AsyncGenerator<Uint8Array> {
  for (const size of sizes) yield new Uint8Array(size).fill(7);
}
async function* breaking(size: number): AsyncGenerator<Uint8Array> {
  yield new Uint8Array(size);
  throw new Error("the connection broke");
}
/** Makes an upload as old as if nothing had come of it for so many seconds. */
const age = (id: string, seconds: number, ...ends: readonly string[]) => {
  const then = new Date(Date.now() - 1000 * seconds);
  for (const end of ends.length > 0 ? ends : ["json", "part"])
    utimesSync(join(folder, `${id}.${end}`), then, then);
};
const file = (name: string, bytes = 100) => ({ songId: "song", name, bytes, mark: "1" });

describe("files on their way in", () => {
  test("parts follow one another; the whole is there at the end", async () => {
    const { upload } = await beginUpload(file("a.wav"));
    expect(await takePart(upload.id, 0, body(30, 10))).toBe(40);
    await expect(wholeUpload(upload.id)).rejects.toThrow("40 of 100 bytes of a.wav");
    expect(await takePart(upload.id, 40, body(60))).toBe(100);
    expect((await wholeUpload(upload.id)).upload.name).toBe("a.wav");
  });
  test("what came before a break stays, and the same file finds it again", async () => {
    const { upload } = await beginUpload(file("b.wav"));
    await expect(takePart(upload.id, 0, breaking(25))).rejects.toThrow("broke");
    const again = await beginUpload(file("b.wav"));
    expect(again.upload.id).toBe(upload.id);
    expect(again.received).toBeLessThanOrEqual(25);
    expect(await takePart(upload.id, again.received, body(100 - again.received))).toBe(100);
  });
  test("another file of the same name is another upload", async () => {
    const first = await beginUpload(file("c.wav"));
    const other = await beginUpload({ ...file("c.wav"), mark: "2" });
    expect(other.upload.id).not.toBe(first.upload.id);
  });
  test("gaps, doubles and too much are refused, and said where it stands", async () => {
    const { upload } = await beginUpload(file("d.wav"));
    await takePart(upload.id, 0, body(50));
    await expect(takePart(upload.id, 60, body(10))).rejects.toThrow("50 bytes of d.wav are there, not 60");
    await expect(takePart(upload.id, 0, body(10))).rejects.toThrow("go on from there");
    await expect(takePart(upload.id, 50, body(51))).rejects.toThrow("More bytes came than the 100");
  });
  test("what is ended or old is forgotten", async () => {
    const { upload } = await beginUpload(file("e.wav"));
    await endUpload(upload.id);
    await expect(findUpload(upload.id)).rejects.toThrow("not known");
    const old = (await beginUpload(file("f.wav"))).upload.id;
    await takePart(old, 0, body(10));
    age(old, 3 * 86400, "json");
    // Something of it came lately.
    expect((await beginUpload(file("f.wav"))).upload.id).toBe(old);
    age(old, 3 * 86400);
    expect((await beginUpload(file("f.wav"))).upload.id).not.toBe(old);
  });
  test("where as many are open as may be, the one that nobody went on with for longest makes room; else it is said", async () => {
    const ids: string[] = [];
    const fill = async () => {
      for (let n = 0; n < 21; n++) ids.push((await beginUpload(file(`full ${n}.wav`), 20)).upload.id);
    };
    await expect(fill()).rejects.toThrow("20 files are on their way already");
    age(ids[7]!, 1200);
    age(ids[3]!, 3600);
    await beginUpload(file("one more.wav"), 20);
    await expect(findUpload(ids[3]!)).rejects.toThrow("not known");
    expect((await findUpload(ids[7]!)).name).toBe("full 7.wav");
  });
});
