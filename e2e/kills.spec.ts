// Servers, workers and connections that end at any moment: what was acknowledged is there, nothing is half-written, every start comes up by itself.
// `JUBO_KILLS=200` makes it long. It has a database cluster of its own, which is stopped and started as well.
import { expect, test } from "@playwright/test";
import { execFileSync, type ChildProcess } from "node:child_process";
import { randomSource } from "../src/core/signal/random";
import { noiseWav } from "./kit";
import { bash, digest, freePort, hasEnded, npmStart, startServer, startWorker } from "./ownServer";

const kills = Number(process.env["JUBO_KILLS"] ?? 8);
const seed = Number(process.env["JUBO_SEED"] ?? 1);

interface Rig {
  readonly base: string;
  readonly port: number;
  readonly env: NodeJS.ProcessEnv;
  server: ChildProcess;
  worker: ChildProcess;
}
/** A question that may go wrong in any way while things are killed; null: no answer, or none that acknowledges. */
async function ask<T>(rig: Rig, path: string, init?: RequestInit): Promise<T | null> {
  try {
    const answer = await fetch(rig.base + path, { ...init, signal: AbortSignal.timeout(20_000) });
    return answer.ok ? ((await answer.json()) as T) : null;
  } catch {
    return null;
  }
}
const post = <T>(rig: Rig, path: string, data: object) =>
  ask<T>(rig, path, {
    method: "POST",
    body: JSON.stringify(data),
    headers: { "content-type": "application/json" },
  });
const ready = (rig: Rig) => expect.poll(() => ask(rig, "/api/songs"), { timeout: 60_000 }).not.toBeNull();

/** What was acknowledged, by song. */
interface Promised {
  readonly id: string;
  /** Files that were taken: name and digest of what was sent. */
  readonly files: Map<string, string>;
  level: number | null;
  readonly tasks: string[];
}

async function importOne(rig: Rig, song: Promised, n: number): Promise<void> {
  const bytes = noiseWav(30_000 + 1000 * n, "wav24", n);
  const name = `mic ${n}.wav`;
  const begun = await post<{ id: string }>(rig, `/api/songs/${song.id}/uploads`, {
    name,
    bytes: bytes.length,
    mark: "1",
  });
  if (!begun) return;
  const sent = await ask<object>(rig, `/api/uploads/${begun.id}?from=0`, {
    method: "PUT",
    body: new Uint8Array(bytes),
  });
  const taken = sent && (await post<{ taken: { file: string }[] }>(rig, `/api/uploads/${begun.id}`, {}));
  for (const { file } of taken?.taken ?? []) song.files.set(file, digest(bytes));
}
async function editOne(rig: Rig, song: Promised, n: number): Promise<void> {
  const now = await ask<{ version: number; song: { mics: { id: string }[] } }>(rig, `/api/songs/${song.id}`);
  if (!now?.song.mics[0]) return;
  const level = 0 - (n % 60); // never -0, which JSON does not know
  const operation = { op: "setMic", mic: now.song.mics[0].id, values: { level } };
  if (
    await post(rig, `/api/songs/${song.id}/operations`, { version: now.version, label: "Level", operation })
  )
    song.level = level;
  // Not acknowledged may still be done: then it is what was asked, and nothing between.
  else song.level = null;
}
async function startOne(rig: Rig, song: Promised, kind: "analyse" | "export"): Promise<void> {
  const task = await post<{ id: string }>(rig, `/api/songs/${song.id}/tasks`, { kind, options: {} });
  if (task) song.tasks.push(task.id);
}

/** What was acknowledged and is not there, in words. Looked at as a whole: each expectation costs the runner more than the last. */
async function missing(rig: Rig, songs: readonly Promised[]): Promise<string[]> {
  const found: string[] = [];
  for (const { id, files, level, tasks } of songs) {
    const opened = await ask<{
      song: { mics: { id: string; file: string; audio: string; level: number }[] };
    }>(rig, `/api/songs/${id}`);
    const mics = opened?.song.mics ?? [];
    for (const [file, sent] of files) {
      const mic = mics.find((m) => m.file === file);
      const stored = mic && (await fetch(`${rig.base}/api/audio/${mic.audio}`).then((r) => r.arrayBuffer()));
      if (!stored || digest(new Uint8Array(stored)) !== sent) found.push(`${file} of ${id}`);
    }
    if (level !== null && mics[0]?.level !== level) found.push(`level ${level} of ${id}`);
    for (const task of tasks)
      if ((await ask(rig, `/api/tasks/${task}`)) === null) found.push(`task ${task} of ${id}`);
  }
  return found;
}

test("whatever is killed at whatever moment, what was acknowledged is there", async () => {
  test.setTimeout(120_000 + 20_000 * kills);
  bash("remove_cluster kills");
  const url = bash('start_cluster kills >&2; printf %s "$DATABASE_URL"');
  const next = randomSource(seed);
  const one = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const port = await freePort();
  const env = {
    ...process.env,
    DATABASE_URL: url,
    JUBO_UPLOADS: `data/kills-uploads-${port}`,
  } as NodeJS.ProcessEnv;
  execFileSync(process.execPath, ["dist/setup.mjs"], { env: { ...env, JUBO_DEMO: "no" }, stdio: "ignore" });
  const rig: Rig = {
    base: `http://127.0.0.1:${port}`,
    port,
    env,
    server: startServer(port, env),
    worker: startWorker(env),
  };
  const songs: Promised[] = [];
  const killed: Record<string, number> = {};
  const ways: Record<string, () => void> = {
    server: () => void rig.server.kill("SIGKILL"),
    worker: () => void rig.worker.kill("SIGKILL"),
    connections: () =>
      void execFileSync("psql", [
        url,
        "-qAtc",
        "select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() and datname = 'jubo'",
      ]),
    database: () =>
      void bash('as_pg "$(pg_bin)/pg_ctl" -D "$(cluster_path kills)" -m immediate stop >/dev/null'),
  };
  try {
    await ready(rig);
    for (let n = 0; n < kills; n++) {
      if (n % 4 === 0) {
        const made = await post<{ id: string }>(rig, "/api/songs", { title: `Killed ${n}` });
        songs.push({ id: made!.id, files: new Map(), level: null, tasks: [] });
      }
      const song = one(songs);
      const work = Promise.all([
        importOne(rig, song, 2 * n),
        importOne(rig, song, 2 * n + 1),
        editOne(rig, song, n),
        startOne(rig, song, one(["analyse", "export"])),
      ]);
      await new Promise((resolve) => setTimeout(resolve, 400 * next()));
      const way = one(Object.keys(ways));
      killed[way] = (killed[way] ?? 0) + 1;
      ways[way]!();
      await work;
      if (way === "database")
        bash(
          `c=$(cluster_path kills); as_pg "$(pg_bin)/pg_ctl" -D "$c" -w -t 60 -l "$c/server.log" -o "-p ${new URL(url).port}" start >/dev/null`,
        );
      if (way === "server") rig.server = startServer(rig.port, rig.env);
      if (hasEnded(rig.worker)) rig.worker = startWorker(rig.env);
      await ready(rig);
      expect(await missing(rig, songs), `after ${way}`).toEqual([]);
    }
    if (hasEnded(rig.worker)) rig.worker = startWorker(rig.env);
    // Every task that was taken comes to an end, whoever had it.
    const tasks = songs.flatMap((s) => s.tasks);
    const open = async () => {
      const states = await Promise.all(tasks.map((t) => ask<{ state: string }>(rig, `/api/tasks/${t}`)));
      return states.filter((s) => s === null || s.state === "running" || s.state === "waiting").length;
    };
    await expect.poll(open, { timeout: 60_000 + 5000 * kills, intervals: [1000] }).toBe(0);
    process.stdout.write(
      `    ${kills} kills (${Object.entries(killed)
        .map(([k, v]) => `${v} ${k}`)
        .join(", ")}): ${songs.reduce((sum, s) => sum + s.files.size, 0)} files, ${tasks.length} tasks\n`,
    );
  } finally {
    rig.server.kill("SIGKILL");
    rig.worker.kill("SIGKILL");
    bash("remove_cluster kills");
    execFileSync("rm", ["-rf", env["JUBO_UPLOADS"]!]);
  }
});

test("npm start keeps its database up; told to stop, it leaves neither server nor database running", async () => {
  test.setTimeout(180_000);
  bash("remove_cluster stopped");
  const port = await freePort();
  const npm = npmStart("stopped", port, { JUBO_OWN_WORKER: "no" });
  const answers = () =>
    fetch(`http://127.0.0.1:${port}/api/songs`).then(
      (r) => r.status,
      () => 0,
    );
  const cluster = (how: string) => bash(`as_pg "$(pg_bin)/pg_ctl" -D "$(cluster_path stopped)" ${how}`);
  const database = () => cluster("status >/dev/null 2>&1 && printf runs || printf rests");
  await expect.poll(answers, { timeout: 60_000 }).toBe(200);
  const run = () => cluster("status | sed -n 's/.*PID: \\([0-9]*\\).*/\\1/p' || true");
  const first = run();
  // It stops by itself where its disk is full, for instance.
  cluster("-m immediate stop >/dev/null");
  await expect.poll(run, { timeout: 60_000 }).toMatch(/^\d+$/);
  expect(run()).not.toBe(first);
  await expect.poll(answers, { timeout: 60_000 }).toBe(200);
  expect(database()).toBe("runs");
  npm.kill("SIGTERM");
  await expect.poll(async () => [await answers(), database()], { timeout: 20_000 }).toEqual([0, "rests"]);
  bash("remove_cluster stopped");
});
