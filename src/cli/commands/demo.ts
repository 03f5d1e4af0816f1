import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { demoSampleRate, makeDemo, micFile } from "../../../demo/demoSong";
import { one, print, type Command } from "../command";

const usage = "demo OUT";

export const demo: Command = {
  usage,
  help: "Writes the demo song's mic files to the folder OUT, and what is true of them to OUT.truth.json.",
  async run(args) {
    const out = one(parseArgs({ args, allowPositionals: true }).positionals, usage).replace(/\/+$/, "");
    const { mics, truth } = makeDemo();
    mkdirSync(out, { recursive: true });
    for (const mic of mics) writeFileSync(join(out, mic.spec.file), micFile(mic, demoSampleRate));
    writeFileSync(`${out}.truth.json`, JSON.stringify(truth, null, 1));
    print(`${mics.length} files in ${out}, truth in ${out}.truth.json`);
  },
};
