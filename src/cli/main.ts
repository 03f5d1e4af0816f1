import { analyse } from "./commands/analyse";
import { demo } from "./commands/demo";
import { measure } from "./commands/measure";
import { mix } from "./commands/mix";
import { params } from "./commands/params";
import { process as processFile } from "./commands/process";
import { render } from "./commands/render";
import { worker } from "./commands/worker";
import type { Command } from "./command";

const commands: Record<string, Command> = {
  demo,
  analyse,
  mix,
  render,
  process: processFile,
  measure,
  params,
  worker,
};

const help = (): string =>
  `jubo: a finished kit from the microphone recordings of one drum kit

${Object.values(commands)
  .map((c) => `  jubo ${c.usage}\n      ${c.help}`)
  .join("\n")}
  jubo help
      This page. Exit code 0, or 1 with one line on standard error.
`;

async function main(): Promise<void> {
  const [name, ...rest] = process.argv.slice(2);
  if (!name || name === "help" || name === "--help" || name === "-h") {
    process.stdout.write(help());
    return;
  }
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!command) throw new Error(`unknown command "${name}"; jubo help lists them`);
  await command.run(rest);
}

// Whoever reads may have read enough, as `head` has: that is no fault.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(0);
  throw error;
});
main().catch((error: unknown) => {
  const text = error instanceof Error ? error.message : String(error);
  process.stderr.write(`jubo: ${text.split("\n")[0]}\n`);
  process.exit(1);
});
