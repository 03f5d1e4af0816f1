import { spawn, type ChildProcess } from "node:child_process";
import { expect, test, type APIRequestContext } from "@playwright/test";
import { noiseWav } from "./kit";
import { freePort, startServer } from "./ownServer";
import { readSong, sendFile } from "./songApi";

// A second server and worker on the same database, which may be killed.
async function secondServer(): Promise<{ url: string; server: ChildProcess }> {
  const port = await freePort();
  const server = startServer(port);
  const url = `http://127.0.0.1:${port}`;
  await expect
    .poll(
      () =>
        fetch(`${url}/api/songs`).then(
          (r) => r.status,
          () => 0,
        ),
      { timeout: 30_000 },
    )
    .toBe(200);
  return { url, server };
}
const newSong = async (request: APIRequestContext): Promise<string> =>
  ((await (await request.post("/api/songs", { data: { title: "Recovery" } })).json()) as { id: string }).id;

test.skip(!process.env["DATABASE_URL"], "needs DATABASE_URL, which scripts/test.sh sets");

test("a server killed during an import leaves nothing of the file, and what was saved is there", async ({
  request,
}) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(48000));
  const { url, server } = await secondServer();
  const bytes = noiseWav(20 * 48000, "wav24", 2);
  let sent = 0;
  const slow = new ReadableStream<Uint8Array>({
    async pull(controller) {
      await new Promise((resolve) => setTimeout(resolve, 30));
      controller.enqueue(new Uint8Array(bytes.subarray(sent, (sent += 65536))));
      if (sent >= bytes.length) controller.close();
    },
  });
  const begun = await request.post(`/api/songs/${id}/uploads`, {
    data: { name: "Snare.wav", bytes: bytes.length, mark: `${bytes.length}` },
  });
  const open = (await begun.json()) as { id: string };
  const upload = fetch(`${url}/api/uploads/${open.id}?from=0`, {
    method: "PUT",
    body: slow,
    headers: { "content-length": String(bytes.length) },
    duplex: "half",
  } as RequestInit).then(
    () => "done",
    () => "broken",
  );
  await expect.poll(() => sent, { timeout: 20_000 }).toBeGreaterThan(400_000);
  server.kill("SIGKILL");
  expect(await upload).toBe("broken");
  const { song } = (await (await request.get(`/api/songs/${id}`)).json()) as {
    song: { mics: { file: string }[] };
  };
  expect(song.mics.map((m) => m.file)).toEqual(["Kick.wav"]);
  // The same file comes in whole at the next try, which sends only what is missing.
  expect((await sendFile(request, id, "Snare.wav", bytes)).status()).toBe(200);
  const taken = (await readSong(request, id)).song.mics.find((m) => m.file === "Snare.wav")!;
  const stored = await (await request.get(`/api/audio/${taken.audio}`)).body();
  expect(stored.equals(bytes)).toBe(true);
});

test("an export whose worker is killed is taken up by another and finished", async ({ request }) => {
  test.setTimeout(180_000);
  const id = await newSong(request);
  for (let i = 0; i < 4; i++)
    await sendFile(request, id, `mic${i}.wav`, noiseWav(60 * 48000, "wav16", i + 1));
  const task = (await (
    await request.post(`/api/songs/${id}/tasks`, { data: { kind: "export", options: { format: "wav24" } } })
  ).json()) as { id: string };
  const read = async () =>
    (await (await request.get(`/api/tasks/${task.id}`)).json()) as { state: string; progress: number };
  await expect
    .poll(async () => (await read()).progress, { timeout: 60_000, intervals: [100] })
    .toBeGreaterThan(0.05);
  // Every worker of this database is killed hard; the server starts a new one after five seconds.
  const pids = (
    await new Promise<string>((resolve) => {
      const ps = spawn("pgrep", ["-f", "dist/cli.mjs worker"]);
      let out = "";
      ps.stdout.on("data", (d: Buffer) => (out += d.toString()));
      ps.on("close", () => resolve(out));
    })
  )
    .split("\n")
    .filter(Boolean)
    .map(Number);
  const own: number[] = [];
  for (const pid of pids) {
    const { readFileSync } = await import("node:fs");
    try {
      if (readFileSync(`/proc/${pid}/environ`, "utf8").includes(process.env["DATABASE_URL"]!)) own.push(pid);
    } catch {
      // ended meanwhile
    }
  }
  expect(own.length).toBeGreaterThan(0);
  for (const pid of own) process.kill(pid, "SIGKILL");
  expect((await read()).state).toBe("running");
  await expect.poll(async () => (await read()).state, { timeout: 150_000, intervals: [1000] }).toBe("done");
});
