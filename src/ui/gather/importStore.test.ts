import { afterAll, beforeEach, describe, expect, test } from "@jest/globals";
import { useSong } from "../shared/songStore";
import { importFiles, leaveFiles, retryImport, stopImport, takeFiles, useImport } from "./importStore";

// A server that takes uploads in parts, behind `fetch` and XMLHttpRequest as the page has them. A test may break the connection,
// refuse a file, or hold parts back.
interface Taken {
  name: string;
  bytes: Buffer;
}
class FakeUploads {
  readonly open = new Map<string, { name: string; size: number; mark: string; bytes: Buffer }>();
  readonly taken: Taken[] = [];
  readonly refuses = new Set<string>();
  analysed = 0;
  reloads = 0;
  room = { diskFree: 1e12, analysisHeld: 2e9 };
  /** Parts that break off half way. */
  breaks = 0;
  readonly held: (() => void)[] = [];
  holding = false;
  most = 0;
  running = 0;

  begin(asked: { name: string; bytes: number; mark: string }): object {
    const id =
      [...this.open].find(
        ([, u]) => u.name === asked.name && u.size === asked.bytes && u.mark === asked.mark,
      )?.[0] ?? `u${this.open.size + 1}`;
    if (!this.open.has(id)) this.open.set(id, { ...asked, size: asked.bytes, bytes: Buffer.alloc(0) });
    return { id, received: this.open.get(id)!.bytes.length };
  }
  take(id: string): [number, object] {
    const { name, bytes } = this.open.get(id)!;
    if (this.refuses.has(name)) return [400, { code: "invalid", message: `${name} is no audio.` }];
    this.taken.push({ name, bytes });
    const remarks = name.includes("96k") ? ["converted from 96000 to 48000 Hz"] : [];
    if (name.endsWith(".zip"))
      return [
        200,
        {
          taken: [
            { file: "a.wav", remarks: [] },
            { file: "b.wav", remarks: ["begins late"] },
          ],
          refused: [{ file: "c.wav", message: "c.wav is broken." }],
        },
      ];
    return [200, { taken: [{ file: name, remarks }], refused: [] }];
  }
}
let server = new FakeUploads();

class FakeRequest {
  upload: { onprogress: ((event: { loaded: number }) => void) | null } = { onprogress: null };
  onerror: (() => void) | null = null;
  onabort: (() => void) | null = null;
  onload: (() => void) | null = null;
  onloadend: (() => void) | null = null;
  status = 0;
  responseText = "";
  private path = "";
  private aborted = false;
  open(_: string, path: string): void {
    this.path = path;
  }
  abort(): void {
    this.aborted = true;
    this.onabort?.();
    this.onloadend?.();
  }
  async send(part: Blob): Promise<void> {
    const [, id, from] = /uploads\/(\w+)\?from=(\d+)/.exec(this.path)!;
    const bytes = Buffer.from(await part.arrayBuffer());
    server.running++;
    server.most = Math.max(server.most, server.running);
    if (server.holding) await new Promise<void>((go) => server.held.push(go));
    else await new Promise((r) => setTimeout(r, 1));
    server.running--;
    if (this.aborted) return;
    const upload = server.open.get(id!)!;
    expect(Number(from)).toBe(upload.bytes.length);
    if (server.breaks > 0) {
      server.breaks--;
      upload.bytes = Buffer.concat([upload.bytes, bytes.subarray(0, bytes.length / 2)]);
      this.onerror?.();
    } else {
      upload.bytes = Buffer.concat([upload.bytes, bytes]);
      this.upload.onprogress?.({ loaded: bytes.length });
      this.status = 200;
      this.responseText = JSON.stringify({ received: upload.bytes.length });
      this.onload?.();
    }
    this.onloadend?.();
  }
}
const page = globalThis as unknown as { fetch: unknown; XMLHttpRequest: unknown };
const before = { fetch: page.fetch, request: page.XMLHttpRequest };
const original = { reload: useSong.getState().reload, run: useSong.getState().run };
beforeEach(() => {
  server = new FakeUploads();
  page.XMLHttpRequest = FakeRequest;
  page.fetch = async (path: string, init?: RequestInit): Promise<Response> => {
    const body = JSON.parse(String(init?.body ?? "{}")) as { name: string; bytes: number; mark: string };
    if (path === "/api/room") return new Response(JSON.stringify(server.room));
    const id = /uploads\/(\w+)$/.exec(path)?.[1];
    const [status, answer] = id ? server.take(id) : [200, server.begin(body)];
    return new Response(JSON.stringify(answer), { status: status as number });
  };
  useImport.setState({ rows: [], busy: false, asked: null });
  useSong.setState({
    id: "s1",
    reload: async () => void server.reloads++,
    run: async () => void server.analysed++,
  });
});
afterAll(() => {
  page.fetch = before.fetch;
  page.XMLHttpRequest = before.request;
  useSong.setState(original);
});
const file = (name: string, size: number): File =>
  new File([Uint8Array.from({ length: size }, (_, i) => (i * 7 + size) % 251)], name, { lastModified: 5 });
async function until(what: () => boolean): Promise<void> {
  for (let n = 0; n < 4000 && !what(); n++) await new Promise((r) => setTimeout(r, 2));
  expect(what()).toBe(true);
}
const done = () => until(() => !useImport.getState().busy && server.reloads > 0);
const rows = () => useImport.getState().rows.map((r) => `${r.file.name}: ${r.state}`);

describe("files that are brought into a song", () => {
  test("come in whole, three side by side at most, and the kit is analysed once", async () => {
    const files = ["Kick", "Snare", "Hat", "Tom", "Floor"].map((n, i) => file(`${n}.wav`, 1000 + i));
    await importFiles("s1", files);
    await done();
    expect(rows()).toEqual(files.map((f) => `${f.name}: in`));
    expect(server.taken.map((t) => t.bytes.length).sort()).toEqual([1000, 1001, 1002, 1003, 1004]);
    expect(server.most).toBeLessThanOrEqual(3);
    expect([server.reloads, server.analysed]).toEqual([1, 1]);
  });
  test("a large one comes in parts, to the byte", async () => {
    const large = file("Overheads 96k.wav", 20 * 1024 * 1024 + 5);
    await importFiles("s1", [large]);
    await done();
    expect(server.taken[0]!.bytes.equals(Buffer.from(await large.arrayBuffer()))).toBe(true);
    expect(useImport.getState().rows[0]).toMatchObject({
      progress: 1,
      message: "converted from 96000 to 48000 Hz",
    });
  });
  test("a connection that breaks off is waited for, and the file goes on where it stopped", async () => {
    server.breaks = 2;
    const kick = file("Kick.wav", 4000);
    await importFiles("s1", [kick]);
    await done();
    expect(rows()).toEqual(["Kick.wav: in"]);
    expect(server.taken[0]!.bytes.equals(Buffer.from(await kick.arrayBuffer()))).toBe(true);
  });
  test("one that is refused says why and is no reason for the others; tried again, only it is sent", async () => {
    server.refuses.add("Letter.wav");
    await importFiles("s1", [file("Kick.wav", 300), file("Letter.wav", 200)]);
    await done();
    expect(rows()).toEqual(["Kick.wav: in", "Letter.wav: refused"]);
    expect(useImport.getState().rows[1]!.message).toBe("Letter.wav is no audio.");
    server.refuses.clear();
    retryImport("s1");
    await until(() => server.reloads === 2);
    expect(rows()).toEqual(["Kick.wav: in", "Letter.wav: in"]);
    expect(server.taken.map((t) => t.name)).toEqual(["Kick.wav", "Letter.wav"]);
  });
  test("all of them refused: nothing is analysed", async () => {
    server.refuses.add("Letter.wav");
    await importFiles("s1", [file("Letter.wav", 200)]);
    await done();
    expect(server.analysed).toBe(0);
  });
  test("an archive tells of each of its files", async () => {
    await importFiles("s1", [file("Takes.zip", 500)]);
    await done();
    expect(useImport.getState().rows[0]).toMatchObject({
      state: "in",
      message: "2 of 3 files of the archive are in.; b.wav: begins late; c.wav is broken.",
    });
  });
  test("stopped: what is under way ends, what waits is not sent, what is in stays; later all goes on", async () => {
    server.holding = true;
    const files = ["A", "B", "C", "D"].map((n) => file(`${n}.wav`, 100));
    await importFiles("s1", files);
    await until(() => server.held.length === 3);
    stopImport();
    expect(rows().at(-1)).toBe("D.wav: stopped");
    for (const go of server.held) go();
    await done();
    expect(rows()).toEqual(files.map((f) => `${f.name}: stopped`));
    expect(server.taken).toEqual([]);
    server.holding = false;
    retryImport("s1");
    await until(() => server.reloads === 2);
    expect(rows()).toEqual(files.map((f) => `${f.name}: in`));
  });
  test("more files while some are coming join them; a new delivery begins a new list", async () => {
    server.holding = true;
    await importFiles("s1", [file("A.wav", 100)]);
    await until(() => server.held.length === 1);
    await importFiles("s1", [file("B.wav", 100)]);
    server.holding = false;
    for (const go of server.held) go();
    await done();
    await until(() => rows().every((r) => r.endsWith(": in")));
    expect(rows()).toEqual(["A.wav: in", "B.wav: in"]);
    await importFiles("s1", [file("C.wav", 100)]);
    await until(() => rows().join() === "C.wav: in");
  });
  test("another song was opened meanwhile: it is not analysed for files of this one", async () => {
    server.holding = true;
    await importFiles("s1", [file("A.wav", 100)]);
    await until(() => server.held.length === 1);
    useSong.setState({ id: "s2" });
    server.holding = false;
    for (const go of server.held) go();
    await done();
    expect(server.analysed).toBe(0);
  });
  test("what has little room on the disk, or is hours long, is asked about before anything is sent", async () => {
    server.room = { diskFree: 1000, analysisHeld: 2e9 };
    await importFiles("s1", [file("A.wav", 900)]);
    expect(useImport.getState()).toMatchObject({ rows: [], asked: { bytes: 900, room: server.room } });
    leaveFiles();
    expect(useImport.getState()).toMatchObject({ rows: [], asked: null });
    const hours = Object.defineProperty(file("B.wav", 10), "size", { value: 5e9 });
    server.room = { diskFree: 1e12, analysisHeld: 2e9 };
    await importFiles("s1", [hours]);
    expect(useImport.getState().asked?.bytes).toBe(5e9);
    leaveFiles();
    expect(server.open.size).toBe(0);
    server.room = { diskFree: 1000, analysisHeld: 2e9 };
    await importFiles("s1", [file("A.wav", 900)]);
    takeFiles();
    await done();
    expect(rows()).toEqual(["A.wav: in"]);
    expect(useImport.getState().asked).toBeNull();
  });
});
