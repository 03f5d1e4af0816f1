import { readFileSync, writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { responses } from "../../core/engine/responses";
import { processorType } from "../../core/processors";
import { processChain } from "../../core/engine/processChain";
import { decodeFile } from "../../server/audio/decodeFile";
import { writeWav } from "../../core/file/wavWrite";
import { parseChain } from "../../core/song/chainFile";
import { print, type Command } from "../command";

const usage = "process CHAIN.json IN.wav OUT.wav [--key KEY.wav] [--response IR.wav]";

export const process: Command = {
  usage,
  help: "Runs one chain of processors over one file, sample-aligned; OUT is 32-bit float.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { key: { type: "string" }, response: { type: "string" } },
    });
    const [chainPath, inPath, outPath] = positionals;
    if (!chainPath || !inPath || !outPath || positionals.length > 3) throw new Error(`usage: jubo ${usage}`);
    const read = async (path: string) => {
      try {
        return await decodeFile(new Uint8Array(readFileSync(path)));
      } catch (error) {
        throw new Error(`${path} ${error instanceof Error ? error.message : String(error)}`);
      }
    };
    let json: unknown;
    try {
      json = JSON.parse(readFileSync(chainPath, "utf8"));
    } catch (error) {
      throw new Error(`${chainPath} is not JSON: ${error instanceof Error ? error.message : String(error)}`);
    }
    const { chain: given, hits, beats } = parseChain(json);
    const input = await read(inPath);
    const beside = async (path: string | undefined) => {
      if (path === undefined) return null;
      const other = await read(path);
      if (other.sampleRate !== input.sampleRate)
        throw new Error(
          `${path} has ${other.sampleRate} Hz, ${inPath} ${input.sampleRate} Hz; they must agree`,
        );
      return other;
    };
    const key = await beside(values.key);
    const response = await beside(values.response);
    if (response) responses.putAudio("given", response.channels, input.sampleRate);
    const chain = given.map((p) =>
      response && processorType(p.type).responds ? { ...p, response: "given" } : p,
    );
    const frames = (seconds: readonly number[]) =>
      Float64Array.from(seconds, (t) => t * input.sampleRate).sort();
    const options = { key: key?.channels ?? null, beats: frames(beats) };
    const channels = processChain(chain, input.channels, input.sampleRate, frames(hits), options);
    writeFileSync(outPath, writeWav({ sampleRate: input.sampleRate, channels }, "wav32f"));
    print(
      `${outPath}: ${channels.length} channel${channels.length > 1 ? "s" : ""}, ${channels[0]!.length} frames`,
    );
  },
};
