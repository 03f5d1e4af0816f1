import { spawn } from "node:child_process";
import { log } from "../log";

/** Starts a worker beside the web process and starts it anew when it dies, at most every five seconds. */
export function startOwnWorker(): void {
  const args = ["--max-old-space-size=12288", "dist/cli.mjs", "worker"];
  const child = spawn(process.execPath, args, {
    stdio: ["ignore", "inherit", "inherit", "ipc"],
    env: process.env,
  });
  child.on("exit", (code) => {
    if (code === 0) return;
    log.warn({ code }, "the worker ended; starting another");
    setTimeout(startOwnWorker, 5000).unref();
  });
}
