// Several workers on one queue against one: as many songs as there are cores, three at most, are rendered by one worker
// that has one core, then by a worker for each song with a core of its own. DATABASE_URL, BASE_URL without a worker of its own.
import { spawn, type ChildProcess } from "node:child_process";
import { availableParallelism } from "node:os";
import { post, run, upload } from "./client";
import { note, save, secondsOf } from "./table";
import { takes } from "./takes";

const many = Math.min(3, availableParallelism());

/** A worker that has one core; resolves when it takes tasks. */
function startWorker(core: number): Promise<ChildProcess> {
  const args = ["-c", String(core), process.execPath, "dist/cli.mjs", "worker"];
  const child = spawn("taskset", args, { stdio: ["ignore", "inherit", "pipe"] });
  return new Promise((resolve, reject) => {
    child.on("exit", () => reject(new Error("the worker ended")));
    child.stderr.on("data", (text: Buffer) => text.includes("worker ready") && resolve(child));
  });
}
async function stop(workers: readonly ChildProcess[]): Promise<void> {
  await Promise.all(
    workers.map((w) => {
      w.removeAllListeners("exit");
      const ended = new Promise((resolve) => w.on("exit", resolve));
      w.kill();
      return ended;
    }),
  );
}

const list = [...takes(12, 1)];
const songs: string[] = [];
for (let n = 1; n <= many; n++) {
  const { id } = await post<{ id: string }>("/api/songs", { title: `workers ${n}` });
  await upload(id, list);
  songs.push(id);
}
/** Seconds until all songs are rendered by so many workers. */
async function renderedBy(count: number): Promise<number> {
  const workers = await Promise.all(Array.from({ length: count }, (_, core) => startWorker(core)));
  const time = await secondsOf(() => Promise.all(songs.map((song) => run(song, "export"))));
  await stop(workers);
  return time;
}
// In turns, so that a slow minute of the machine meets both.
const one: number[] = [];
const all: number[] = [];
for (let round = 0; round < 3; round++) {
  one.push(await renderedBy(1));
  all.push(await renderedBy(many));
}
const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0);
note({ name: `${many} songs, one worker with one core`, value: sum(one) / 3, unit: "s" });
note({ name: `${many} songs, ${many} workers with a core each`, value: sum(all) / 3, unit: "s" });
note({ name: "  times as fast", value: sum(one) / sum(all), unit: "", budget: String(many) });
save("bench-workers");
