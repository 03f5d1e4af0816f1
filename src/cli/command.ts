export interface Command {
  usage: string;
  help: string;
  run(args: string[]): Promise<void>;
}

/** Writes JSON or lines to standard output. */
export const print = (text: string): void =>
  void process.stdout.write(text.endsWith("\n") ? text : `${text}\n`);
export const printJson = (value: unknown): void => print(JSON.stringify(value, null, 1));
/** Says something to the user without disturbing standard output. */
export const remark = (text: string): void => void process.stderr.write(`jubo: ${text}\n`);

/** The only positional argument, or an error with the usage. */
export function one(positionals: readonly string[], usage: string): string {
  if (positionals.length !== 1) throw new Error(`usage: jubo ${usage}`);
  return positionals[0]!;
}
