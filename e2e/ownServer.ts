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
