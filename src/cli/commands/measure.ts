import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { parseArgs } from "node:util";
import { decodeFile } from "../../server/audio/decodeFile";
import { measureAudio } from "../../core/measure/measureAudio";
import { print, printJson, type Command } from "../command";

const usage = "measure FILE… [--json]";
const finite = (x: number): number | null => (Number.isFinite(x) ? Number(x.toFixed(6)) : null);

export const measure: Command = {
  usage,
  help: "Loudness (BS.1770), true peak, sample peak, RMS, crest, correlation, DC and clipped samples of WAV files.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { json: { type: "boolean" } },
    });
    if (positionals.length === 0) throw new Error(`usage: jubo ${usage}`);
    const measureFile = async (path: string) => {
      try {
        const { channels, sampleRate } = await decodeFile(new Uint8Array(readFileSync(path)));
        const m = measureAudio(channels, sampleRate);
        return {
          file: basename(path),
          sampleRate,
          channels: channels.length,
          durationSeconds: Number((channels[0]!.length / sampleRate).toFixed(6)),
          integratedLufs: finite(m.integrated),
          momentaryMaxLufs: finite(m.momentaryMax),
          shortTermMaxLufs: finite(m.shortTermMax),
          loudnessRangeLu: finite(m.range),
          truePeakDbtp: finite(m.truePeakDb),
          samplePeakDbfs: finite(m.samplePeakDb),
          rmsDbfs: finite(m.rmsDb),
          crestDb: finite(m.crestDb),
          correlation: finite(m.correlation),
          dc: finite(m.dc),
          clippedSamples: m.clippedSamples,
        };
      } catch (error) {
        throw new Error(`${path} ${error instanceof Error ? error.message : String(error)}`);
      }
    };
    const results: Awaited<ReturnType<typeof measureFile>>[] = [];
    for (const path of positionals) results.push(await measureFile(path));
    if (values.json) return printJson(results);
    for (const r of results)
      print(
        `${r.file}: ${r.integratedLufs ?? "−∞"} LUFS, true peak ${r.truePeakDbtp} dBTP, RMS ${r.rmsDbfs} dBFS, crest ${r.crestDb} dB, clipped ${r.clippedSamples}`,
      );
  },
};
