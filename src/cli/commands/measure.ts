import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { parseArgs } from "node:util";
import { decodeFile } from "../../server/audio/decodeFile";
import { largestDifferences, tonalityOf, type Tonality } from "../../core/blend/besideRecord";
import { measureAudio } from "../../core/measure/measureAudio";
import { thirdOctaves } from "../../core/measure/thirdOctaves";
import { signed } from "../../core/song/proposalWords";
import { print, printJson, type Command } from "../command";

const usage = "measure FILE… [--record FILE] [--json]";
const finite = (x: number): number | null => (Number.isFinite(x) ? Number(x.toFixed(6)) : null);

/** A file that others are held against. Errors  Error that names it. */
async function tonalityOfFile(path: string): Promise<Tonality> {
  try {
    const { channels, sampleRate } = await decodeFile(new Uint8Array(readFileSync(path)));
    return tonalityOf(channels.slice(0, 2), sampleRate);
  } catch (error) {
    throw new Error(`${path} ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** What a file has more than a record, dB, both equally loud. */
const besideRecord = (file: Tonality, record: Tonality) => ({
  thirdOctavesHz: thirdOctaves.map((f) => Number(f.toPrecision(4))),
  thirdOctavesDb: file.bands.map((v, i) => finite(v - record.bands[i]!)),
  crestDb: finite(file.crestDb - record.crestDb),
  lowDb: finite(file.lowDb - record.lowDb),
  most: largestDifferences(file.bands, record.bands).map(({ frequency, by }) => ({
    frequency: Number(frequency.toPrecision(4)),
    by: Number(by.toFixed(1)),
  })),
});

/** The same in words. */
function besideTold({ crestDb, lowDb, most }: ReturnType<typeof besideRecord>): string {
  const db = (v: number | null) => (v === null ? "−∞ dB" : `${signed(v)} dB`);
  const tone = most.map(({ frequency, by }) => `${signed(by)} dB at ${frequency} Hz`).join(", ");
  return `; beside the record crest ${db(crestDb)}, below 120 Hz ${db(lowDb)}, ${tone || "within 3 dB everywhere"}`;
}

export const measure: Command = {
  usage,
  help: "Loudness (BS.1770), true peak, sample peak, RMS, crest, correlation, DC and clipped samples of WAV files; with a record, where each differs from it by third octave, both equally loud.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { json: { type: "boolean" }, record: { type: "string" } },
    });
    if (positionals.length === 0) throw new Error(`usage: jubo ${usage}`);
    const record = values.record === undefined ? null : await tonalityOfFile(values.record);
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
          ...(record ? { besideRecord: besideRecord(tonalityOf(channels, sampleRate), record) } : {}),
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
        `${r.file}: ${r.integratedLufs ?? "−∞"} LUFS, true peak ${r.truePeakDbtp} dBTP, RMS ${r.rmsDbfs} dBFS, crest ${r.crestDb} dB, clipped ${r.clippedSamples}${r.besideRecord ? besideTold(r.besideRecord) : ""}`,
      );
  },
};
