// A disk that is really full: the database lies on a small file system of its own, and something else has filled it.
import { expect, test } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdirSync, rmSync, statfsSync, writeFileSync } from "node:fs";
import { noiseWav } from "./kit";
import { bash, digest, freePort, npmStart, stopped } from "./ownServer";
import { readSong, sendFile } from "./songApi";

const disk = "data/full";
const uploads = "data/full-uploads";
const filler = `${disk}/filler`;

/** True when this user may mount; elsewhere the codes alone are tested (src/server/errors.test.ts). */
function mounted(): boolean {
  // What a run that was broken off has left.
  bash(`umount -l ${disk} 2>/dev/null || true; remove_cluster full`);
  mkdirSync(disk, { recursive: true });
  try {
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=400m", "none", disk], { stdio: "ignore" });
    return true;
  } catch {
    return false;
  }
}
/** Fills the disk up to so many bytes. */
function fill(left: number): void {
  const { bavail, bsize } = statfsSync(disk);
  writeFileSync(filler, Buffer.alloc(bavail * bsize - left));
}

test("a full disk: what does not fit is refused in words, what was taken is whole, and it goes on when there is room", async ({
  playwright,
}) => {
  test.setTimeout(180_000);
  test.skip(!mounted(), "this user may not mount a file system");
  const port = await freePort();
  const npm = npmStart("full", port, { JUBO_UPLOADS: uploads });
  const request = await playwright.request.newContext({ baseURL: `http://127.0.0.1:${port}` });
  try {
    const there = () =>
      request.get("/enter").then(
        () => true,
        () => false,
      );
    await expect.poll(there, { timeout: 60_000 }).toBe(true);
    const { id } = (await (await request.post("/api/songs", { data: { title: "Full" } })).json()) as {
      id: string;
    };
    fill(40e6);

    const taken = new Map<string, string>();
    let refused: Buffer | null = null;
    for (let n = 0; n < 20 && !refused; n++) {
      const bytes = noiseWav(2_000_000, "wav24", n + 1);
      const answer = await sendFile(request, id, `mic ${n}.wav`, bytes);
      if (answer.ok()) taken.set(`mic ${n}.wav`, digest(bytes));
      else {
        refused = bytes;
        expect(answer.status()).toBe(507);
        expect(await answer.text()).toContain("The disk is full. What was saved is safe");
      }
    }
    expect(refused).not.toBeNull();
    expect(taken.size).toBeGreaterThan(0);

    /** How a render ended, in words; the database may have stopped altogether. */
    const rendered = async (): Promise<string> => {
      const data = { kind: "export", options: { stems: true } };
      const begun = await request.post(`/api/songs/${id}/tasks`, { data });
      let last = (await begun.json()) as { id: string; state: string; message: string };
      if (!begun.ok()) return last.message;
      const ended = async () => {
        last = (await (await request.get(`/api/tasks/${last.id}`)).json()) as typeof last;
        return ["done", "failed"].includes(last.state);
      };
      await expect.poll(ended, { timeout: 60_000 }).toBe(true);
      return last.state === "done" ? "done" : last.message;
    };
    expect(await rendered()).toMatch(
      /^(The disk is full|The database cannot be reached)\. What was saved is safe/,
    );

    rmSync(filler);
    const songs = async () => (await request.get("/api/songs")).status();
    await expect.poll(songs, { timeout: 60_000 }).toBe(200);
    expect((await sendFile(request, id, "again.wav", refused!)).status()).toBe(200);
    taken.set("again.wav", digest(refused!));
    const { song } = await readSong(request, id);
    expect(song.mics.map((m) => m.file).sort()).toEqual([...taken.keys()].sort());
    for (const m of song.mics)
      expect(digest(await (await request.get(`/api/audio/${m.audio}`)).body()), m.file).toBe(
        taken.get(m.file),
      );
    expect(await rendered()).toBe("done");
  } finally {
    await request.dispose();
    await stopped(npm);
    execFileSync("umount", ["-l", disk]);
    rmSync(disk, { recursive: true, force: true });
    rmSync(uploads, { recursive: true, force: true });
  }
});
