// What the cards of Shape say against what the finished chains do: every proposal of the kits of two worlds is taken, and what each
// processor does to the strokes is measured where it then stands, behind Cancel and all before it.
// usage: node dist/bench/shape.mjs [FIRST LAST] [FLAVOUR], or with folders of recordings instead of seeds: FOLDER … [FLAVOUR]
import { existsSync } from "node:fs";
import { loadKit, recordedVoices, shotKits } from "../worlds/shots";
import { strangerKit } from "../worlds/strangerKit";
import { strangerSong } from "../worlds/strangerSong";
import { simulate } from "../../demo/simulate";
import { variedKit } from "../../demo/varied";
import { cancelStretch } from "../../src/core/clean/cancelStretch";
import { processChain } from "../../src/core/engine/processChain";
import { guessLabels } from "../../src/core/gather/labels";
import { chainBefore, strokeEffect } from "../../src/core/shape/hitReductions";
import { median } from "../../src/core/signal/level";
import { firstOf, newProcessor, newShaping } from "../../src/core/song/create";
import { flavours, type Flavour } from "../../src/core/song/song";
import { loadFolder } from "../../src/server/audio/loadFolder";
import { mixSteps } from "../../src/server/render/mixSteps";
import { note } from "./table";

const given = process.argv.slice(2);
const flavour = given.find((g) => (flavours as readonly string[]).includes(g)) ?? "modern";
const folders = given.filter((g) => existsSync(g));
const [first = "501", last = "506"] = given.filter((g) => /^\d+$/.test(g));
const simulated = 48000;

/** Mics of one performance. */
interface Recorded {
  readonly sampleRate: number;
  readonly mics: readonly { readonly file: string; readonly channels: Float32Array[] }[];
}

const asRecorded = ({ mics }: ReturnType<typeof simulate>): Recorded => ({
  sampleRate: simulated,
  mics: mics.map((m) => ({ file: m.spec.file, channels: m.channels })),
});

async function sessionOf(world: string, seed: number): Promise<Recorded> {
  if (world === "own") {
    const { kit, song } = variedKit(seed, 16);
    return asRecorded(simulate(kit, song, simulated, seed));
  }
  const kit = strangerKit(seed, false);
  const song = strangerSong(seed, false, (piece) => kit.pieces.some((p) => p.piece === piece));
  const kits = shotKits();
  const shots = await loadKit(kits[seed % kits.length]!, simulated);
  return asRecorded(simulate(kit, song, simulated, seed, recordedVoices(shots, seed)));
}

/** Changes nothing: what it is told to do is the level of what comes in. */
const unchanged = newProcessor("none", "polarity", true);

interface Told {
  readonly kind: string;
  readonly off: number;
}

async function judge({
  mics,
  sampleRate: rate,
}: Recorded): Promise<{ told: Told[]; peaks: number[]; bleed: number[] }> {
  const labels = guessLabels(mics.map((m) => ({ file: m.file, channels: m.channels.length })));
  const recorded = mics.map((m, i) => ({ ...m, label: labels[i]! }));
  const { song, taken, facts } = await mixSteps("bench", recorded, rate, {
    through: "shape",
    tighten: { strength: 0 },
    shaping: { ...newShaping(), flavour: flavour as Flavour },
  });
  const audio = mics.map((m) => m.channels);
  const cancelled = cancelStretch(song, audio, 0);
  const result = { told: [] as Told[], peaks: [] as number[], bleed: [] as number[] };
  song.mics.forEach((mic, i) => {
    const shaped = facts.shapes[mic.id]?.[flavour as Flavour];
    const own = song.hits.filter((h) => h.piece === mic.piece);
    const frame = (t: number) => t * rate + mic.lateBy;
    const hits = Float64Array.from(own.map((h) => frame(h.time))).sort();
    const mains = own.filter((h) => !h.ghost).map((h) => frame(h.time));
    if (!shaped || mains.length < 4) return;
    const free = mic.chain.filter((p) => p.type !== "cancel" && p.type !== "pan");
    const effectOf = (type: string) => {
      const state = firstOf(mic, type);
      if (!state || !taken.some((p) => p.id === `${type}:${mic.id}`)) return null;
      const before = processChain(chainBefore(free, state.id), cancelled[i]!, rate, hits);
      return strokeEffect(state, before, mains, hits, rate);
    };
    const compressed = effectOf("compressor");
    if (compressed && shaped.compressor)
      result.told.push({
        kind: "compressor, dB of reduction",
        off: Math.abs(median(compressed.reductionDb) - shaped.compressor.reductionDb),
      });
    const rounded = effectOf("saturation");
    if (rounded && shaped.rounding) {
      const louder = rounded.loudnessAfter.whole - rounded.loudnessBefore.whole;
      const peak = median(rounded.peakAfter.map((p, k) => p - rounded.peakBefore[k]!)) - louder;
      result.told.push({ kind: "rounding, dB of peak", off: Math.abs(peak - shaped.rounding.peakDb) });
    }
    const out = strokeEffect(unchanged, processChain(free, cancelled[i]!, rate, hits), mains, hits, rate);
    const cleaned = free.filter((p) =>
      ["trim", "delay", "polarity", "rotation", "gate", "dynamicEq"].includes(p.type),
    );
    const unshaped = strokeEffect(
      unchanged,
      processChain(cleaned, cancelled[i]!, rate, hits),
      mains,
      hits,
      rate,
    );
    result.peaks.push(Math.max(...out.peakAfter));
    result.bleed.push(
      out.betweenAfter - unshaped.betweenAfter - (out.loudnessAfter.whole - unshaped.loudnessAfter.whole),
    );
  });
  return result;
}

/** Sessions of each world, one after another. */
async function* sessionsOf(world: string): AsyncGenerator<Recorded> {
  if (world === "given") for (const folder of folders) yield await loadFolder(folder);
  else for (let seed = Number(first); seed <= Number(last); seed++) yield await sessionOf(world, seed);
}

for (const world of folders.length > 0
  ? ["given"]
  : ["own", ...(shotKits().length > 0 ? ["recorded"] : [])]) {
  const all = { told: [] as Told[], peaks: [] as number[], bleed: [] as number[] };
  for await (const session of sessionsOf(world)) {
    const one = await judge(session);
    all.told.push(...one.told);
    all.peaks.push(...one.peaks);
    all.bleed.push(...one.bleed);
  }
  for (const kind of new Set(all.told.map((t) => t.kind))) {
    const off = all.told.filter((t) => t.kind === kind).map((t) => t.off);
    note({
      name: `${world}, ${off.length} mics: ${kind}, card against chain, middle`,
      value: median(off),
      unit: "dB",
    });
    note({ name: "  worst", value: Math.max(...off), unit: "dB", budget: "0.5" });
  }
  note({
    name: `${world}: loudest sample of a drum behind its chain`,
    value: Math.max(...all.peaks),
    unit: "dBFS",
    budget: "-3",
  });
  note({
    name: `${world}: bleed against the strokes by Shape, middle`,
    value: median(all.bleed),
    unit: "dB",
  });
  note({ name: "  worst", value: Math.max(...all.bleed), unit: "dB", budget: "3" });
}
