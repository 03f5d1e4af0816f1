import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { beatBytes, beatSampleRate, makeBeat } from "../../../demo/beatSong";
import { demoSampleRate, makeDemo, micFile } from "../../../demo/demoSong";
import { one, print, type Command } from "../command";

const usage = "demo OUT [--beat]";

function writeBeat(out: string): void {
  const { files, strokes } = makeBeat();
  mkdirSync(out, { recursive: true });
  for (const file of files) writeFileSync(join(out, file.file), beatBytes(file));
  writeFileSync(`${out}.truth.json`, JSON.stringify({ sampleRate: beatSampleRate, strokes }, null, 1));
  print(`${files.length} files in ${out}, truth in ${out}.truth.json`);
}

export const demo: Command = {
  usage,
  help: "Writes the demo song's mic files to the folder OUT, and what is true of them to OUT.truth.json; --beat: the song of a loop and one-shots.",
  async run(args) {
    const { positionals, values } = parseArgs({
      args,
      allowPositionals: true,
      options: { beat: { type: "boolean" } },
    });
    const out = one(positionals, usage).replace(/\/+$/, "");
    if (values.beat) return writeBeat(out);
    const { mics, truth } = makeDemo();
    mkdirSync(out, { recursive: true });
    for (const mic of mics) writeFileSync(join(out, mic.spec.file), micFile(mic, demoSampleRate));
    writeFileSync(`${out}.truth.json`, JSON.stringify(truth, null, 1));
    print(`${mics.length} files in ${out}, truth in ${out}.truth.json`);
  },
};
