// Compiles the kernels (src/core/kernels/assembly) to WebAssembly and writes them as a module of bytes, so that the
// browser, the worklet and Node take the same code in without reading files. Runs after npm ci and before every build.
import { mkdtempSync, readFileSync, rmSync, statSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const sources = "src/core/kernels/assembly";
const target = "src/core/kernels/bytes.ts";
const newest = Math.max(
  ...[...readdirSync(sources).map((name) => join(sources, name)), "scripts/kernels.mjs"].map(
    (path) => statSync(path).mtimeMs,
  ),
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
