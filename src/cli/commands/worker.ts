import { parseArgs } from "node:util";
import { runWorker } from "../../server/jobs/worker";
import type { Command } from "../command";

export const worker: Command = {
  usage: "worker",
  help: "Takes analysis and render jobs from the database at DATABASE_URL until it is stopped.",
  async run(args) {
    parseArgs({ args });
    const url = process.env["DATABASE_URL"];
    if (!url) throw new Error("DATABASE_URL is not set; it tells which database to work for");
    await runWorker(url);
  },
};
