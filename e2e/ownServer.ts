import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { createServer } from "node:net";

/** What a script says that knows the functions of scripts/lib.sh. */
export const bash = (script: string): string =>
  execFileSync("bash", ["-c", `. scripts/lib.sh; ${script}`], { encoding: "utf8" }).trim();

/** A port of loopback that nobody listens at. */
export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export const digest = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** `npm start` on a database of its own, without demo songs. */
export function npmStart(cluster: string, port: number, more: Record<string, string> = {}): ChildProcess {
  const env = {
    ...process.env,
    DATABASE_URL: "",
    PORT: String(port),
    JUBO_CLUSTER: cluster,
    JUBO_DEMO: "no",
  };
  return spawn("npm", ["start"], { env: { ...env, ...more }, stdio: "ignore" });
}

/** A server without worker at a port, or a worker, on the database that the environment names. */
export const startServer = (port: number, env: NodeJS.ProcessEnv = process.env): ChildProcess =>
  spawn(process.execPath, ["dist/server.mjs"], {
    stdio: "ignore",
    env: {
      ...env,
      NODE_ENV: "production",
      JUBO_OWN_WORKER: "no",
      JUBO_HOST: "127.0.0.1",
      JUBO_PORT: String(port),
    },
  });
export const startWorker = (env: NodeJS.ProcessEnv): ChildProcess =>
  spawn(process.execPath, ["dist/cli.mjs", "worker"], { stdio: "ignore", env });

export const hasEnded = ({ exitCode, signalCode }: ChildProcess): boolean =>
  exitCode !== null || signalCode !== null;

/** Tells a process to stop, and waits until it has. */
export async function stopped(one: ChildProcess): Promise<void> {
  if (hasEnded(one)) return;
  const end = new Promise((resolve) => one.once("exit", resolve));
  one.kill("SIGTERM");
  await end;
}
