// Compiles the kernels (src/core/kernels/assembly) to WebAssembly and writes them as a module of bytes, so that the
// browser, the worklet and Node take the same code in without reading files. Runs after npm ci and before every build.
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const sources = "src/core/kernels/assembly";
const target = "src/core/kernels/bytes.ts";
const index = join(sources, "index.ts");
const types = "src/core/kernels/exports.ts";
const rows = "src/core/processors";
const files = readdirSync(sources)
  .map((name) => join(sources, name))
  .filter((path) => path !== index)
  .sort();
const layouts = readdirSync(rows)
  .map((name) => join(rows, name, "rows.ts"))
  .filter((path) => existsSync(path));

/** Writes a file when it is not so already, so that nothing is made anew without need. */
function put(path, text) {
  if (!existsSync(path) || readFileSync(path, "utf8") !== text) writeFileSync(path, text);
}

/** What each source hands out: functions that are not inlined into others, and numbers. */
const found = files.map((path) => {
  const text = readFileSync(path, "utf8");
  const calls = [...text.matchAll(/^export function (\w+)\(([^)]*)\): (\w+)/gm)].map(
    ([, name, given, result]) => ({
      name,
      declared: `  ${name}(${given
        .split(",")
        .map((p) => `${p.split(":")[0].trim()}: number`)
        .join(", ")}): ${result === "void" ? "void" : "number"};`,
    }),
  );
  const numbers = [...text.matchAll(/^export const (\w+): i32/gm)].map(([, name]) => ({
    name,
    declared: `  readonly ${name}: { readonly value: number };`,
  }));
  return { module: path.slice(sources.length + 1, -3), exports: [...calls, ...numbers] };
});
const made = "// Made by scripts/kernels.mjs from the sources beside it.\n";
put(
  index,
  made +
    found
      .filter((f) => f.exports.length > 0)
      .map((f) => `export { ${f.exports.map((e) => e.name).join(", ")} } from "./${f.module}";\n`)
      .join(""),
);
put(
  types,
  `${made}/** The kernels as WebAssembly exports them: pointers are bytes, frames a multiple of 8 and at most 128. */\nexport interface Kernels {\n${found
    .flatMap((f) => f.exports.map((e) => e.declared))
    .join("\n")}\n}\n`,
);

const newest = Math.max(
  ...[...files, ...layouts, "scripts/kernels.mjs"].map((path) => statSync(path).mtimeMs),
);
if ((statSync(target, { throwIfNoEntry: false })?.mtimeMs ?? 0) < newest) {
  const folder = mkdtempSync(join(tmpdir(), "jubo-kernels-"));
  const out = join(folder, "kernels.wasm");
  const { error, stderr } = await asc.main([
    `${sources}/index.ts`,
    "--outFile",
    out,
    ..."--runtime stub --importMemory --noAssert --enable simd -O3".split(" "),
  ]);
  if (error) {
    console.error(stderr.toString());
    process.exit(1);
  }
  const bytes = [...readFileSync(out)];
  rmSync(folder, { recursive: true });
  writeFileSync(
    target,
    `// Made by scripts/kernels.mjs.\n/** The compiled kernels. */\nexport const kernelBytes = new Uint8Array([${bytes.join(",")}]);\n`,
  );
}
