// What both trainers need: their arguments, the world of a session, and what is kept between runs.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { basename, join } from "node:path";
import { deserialize, serialize } from "node:v8";

export const say = (text: string): void => void process.stdout.write(`${text}\n`);

/** OUT.json [--worlds] [--cache DIR] SESSION... */
export function trainingArguments(args: readonly string[]): {
  out: string;
  folders: string[];
  /** Judge every world by what is fitted on the others alone. */
  crossed: boolean;
  cache: string | undefined;
} {
  const rest = args.filter((a) => a !== "--worlds");
  const at = rest.indexOf("--cache");
  const cache = at < 0 ? undefined : rest.splice(at, 2)[1];
  const [out = "", ...folders] = rest;
  return { out, folders, crossed: args.includes("--worlds"), cache };
}

/** World of a session: its folder's name up to the first "-"; the presets of shared sessions are one world. */
export const worldOf = (folder: string): string =>
  basename(folder)
    .replace(/-.*/, "")
    .replace(/^(auto|hard|anonymous|sixeight|drift|easy)$/, "shared");

/** What is made of a session, once: read from `cache` when it lies there. */
export async function kept<T>(cache: string | undefined, name: string, make: () => Promise<T>): Promise<T> {
  if (!cache) return make();
  const path = join(cache, `${name}.bin`);
  if (existsSync(path)) return deserialize(readFileSync(path)) as T;
  const made = await make();
  mkdirSync(cache, { recursive: true });
  writeFileSync(path, serialize(made));
  return made;
}

/** How many sessions of which world something was fitted on, in words. */
export const originOf = (script: string, sessions: readonly { world: string }[]): string =>
  `${script} on ${[...new Set(sessions.map((s) => s.world))].map((w) => `${sessions.filter((s) => s.world === w).length} sessions of the world "${w}"`).join(", ")}`;
