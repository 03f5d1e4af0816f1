// How near the finished kit of sessions with known truth comes to the ideal one, a column a world: the very same kit, shaped and blended alike, of
// close mics that hear nothing but their own drum, in phase, with nothing to clean; overheads and rooms as recorded. Beside it, shaped and blended
// alike: mics as they came in, in phase, and in phase with plain gates. Also the balance by the true strokes, the true peak, and where cymbals lie.
// usage: node dist/evaluateKits.mjs SESSION...   (folders with FOLDER.truth/truth.json and FOLDER.truth/own beside them)
import { readFileSync } from "node:fs";
import { loadKit } from "../src/cli/commands/analyse";
import { balanceTargets } from "../src/core/blend/balance";
import { aloneStrokes } from "../src/core/blend/heardStrokes";
import { editedTime } from "../src/core/engine/timeline";
import { measureAudio } from "../src/core/measure/measureAudio";
import { strokeLoudness } from "../src/core/shape/strokeLoudness";
import { designButterworth, filtered } from "../src/core/signal/biquad";
import { memoryReader, renderSong } from "../src/core/engine/renderSong";
import { respeed } from "../src/core/signal/respeed";
import { processorType } from "../src/core/processors";
import { dbToPower, median, powerOf, powerToDb } from "../src/core/signal/level";
import { isFree, withFree } from "../src/core/song/chain";
import { newProcessor } from "../src/core/song/create";
import {
  farPieces,
  isShell,
  type Hit,
  type Mic,
  type Piece,
  type ProcessorState,
  type Song,
} from "../src/core/song/song";
import { mixSteps } from "../src/server/render/mixSteps";
import { kitDistance } from "./kitDistance";
import { readNpy } from "./loopData";
import { say, worldOf } from "./training";

type Audio = readonly (readonly Float32Array[])[];

async function rendered(song: Song, audio: Audio): Promise<Float32Array[]> {
  const y = [new Float32Array(song.frames), new Float32Array(song.frames)];
  let at = 0;
  await renderSong(song, memoryReader(audio), { kit: true, stems: false, buses: false }, (_, channels, n) => {
    channels.forEach((x, ch) => y[ch]!.set(x.subarray(0, Math.min(n, song.frames - at)), at));
    at += n;
  });
  return y;
}

/** What a processor of a mic's chain is where nothing is cleaned, in phase or as it came in. */
function uncleaned(p: ProcessorState, aligned: boolean): ProcessorState {
  if (p.type === "delay") return aligned ? p : { ...p, params: { ...p.params, delay: 0 } };
  if (p.type === "polarity") return aligned ? p : { ...p, params: { ...p.params, polarity: "as recorded" } };
  return processorType(p.type).step === "clean" ? { ...p, on: false } : p;
}

/** The same kit, shaped and blended as it is, without cleaning; with what `more` puts first into the chains of the mics. */
const without = (song: Song, aligned: boolean, more: (mic: Mic) => ProcessorState[] = () => []): Song => ({
  ...song,
  mics: song.mics.map((m) => {
    const chain = m.chain.map((p) => uncleaned(p, aligned));
    return { ...m, chain: withFree(chain, [...more(m), ...chain.filter(isFree)]) };
  }),
});

/** A gate as anybody would set one: open 12 dB under the usual stroke of the drum (common practice, no source). */
const gateOf =
  (song: Song) =>
  (mic: Mic): ProcessorState[] => {
    const own = song.hits.filter((h) => h.piece === mic.piece && !h.ghost).map((h) => h.levelDb);
    if (!isShell(mic.piece) || own.length === 0) return [];
    return [
      {
        ...newProcessor(mic.id, "gate", true, { threshold: median(own) - 12, range: 40 }),
        id: `${mic.id}.plain`,
      },
    ];
  };

/** Strokes as they were really played, and when they are heard in the song. */
function trueStrokes(folder: string, song: Song): Hit[] {
  const { strokes } = JSON.parse(readFileSync(`${folder}.truth/truth.json`, "utf8")) as {
    strokes: { piece: Piece; timeSeconds: number; ghost?: boolean }[];
  };
  return strokes.map(({ piece, timeSeconds, ghost = false }) => ({
    piece,
    time: editedTime(song.edits, timeSeconds, song.sampleRate),
    levelDb: 0,
    ghost,
    kind: "stroke",
    sure: 1,
  }));
}

/** Loudness of every drum's lone strokes against the snare's, less what common practice gives, dB; the kit's true peak, dBTP. */
function balanceFound(
  kit: readonly Float32Array[],
  strokes: readonly Hit[],
  rate: number,
): Record<string, number> {
  const loudness = (piece: Piece): number => {
    const onsets = aloneStrokes(strokes, piece).map((h) => h.time * rate);
    return powerToDb(kit.reduce((sum, x) => sum + dbToPower(strokeLoudness(x, onsets, rate).whole), 0));
  };
  const snare = loudness("snare");
  const drums = [...new Set(strokes.map((h) => h.piece))].filter((p) => isShell(p) && p !== "snare");
  const off = drums.map((p) => [p, loudness(p) - snare - (balanceTargets[p] ?? 0)] as const);
  return Object.fromEntries([...off, ["true peak", measureAudio(kit, rate).truePeakDb]]);
}

/** Where a cymbal is heard behind its stroke, s: a ride and a crash are struck with the kick, whose click is gone by then. */
const heardFrom = { hat: [0, 0.1], ride: [0.06, 0.2], crash: [0.06, 0.2] } as const;

/** Where the lone strokes of cymbals lie between the sides, -100 to 100 %. */
function placesFound(
  kit: readonly Float32Array[],
  strokes: readonly Hit[],
  rate: number,
): Map<Piece, number> {
  const high = kit.map((x) => filtered(x, designButterworth("high", 3000, 4, rate)));
  return new Map(
    (["hat", "ride", "crash"] as const).flatMap((piece) => {
      const lone = aloneStrokes(strokes, piece);
      if (lone.length < 3) return [];
      const [l, r] = high.map((x) =>
        median(
          lone.map((h) =>
            Math.sqrt(powerOf(x.subarray(...heardFrom[piece].map((s) => Math.round((h.time + s) * rate))))),
          ),
        ),
      );
      return [[piece, (100 * (r! - l!)) / (r! + l!)] as const];
    }),
  );
}

const found = new Map<string, Record<string, number>[]>();
for (const folder of process.argv.slice(2)) {
  const { sampleRate, mics } = await loadKit(folder);
  const { song, mics: played } = await mixSteps("kit", mics, sampleRate, { through: "blend", tighten: {} });
  const audio = song.mics.map((m) => played.find((p) => p.file === m.file)!.channels);
  const own = song.mics.map((m, i) => {
    if (farPieces.includes(m.piece)) return audio[i]!;
    const clean = readNpy(`${folder}.truth/own/${m.file}.npy`);
    return clean.map((x) => (m.clockPpm === 0 ? x : respeed(x, m.clockPpm)));
  });
  const ideal = await rendered(without(song, true), own);
  const finished = await rendered(song, audio);
  const row = {
    "as it came in": kitDistance(ideal, await rendered(without(song, false), audio), sampleRate),
    "in phase": kitDistance(ideal, await rendered(without(song, true), audio), sampleRate),
    "in phase, plain gates": kitDistance(
      ideal,
      await rendered(without(song, true, gateOf(song)), audio),
      sampleRate,
    ),
    finished: kitDistance(ideal, finished, sampleRate),
  };
  const strokes = trueStrokes(folder, song);
  const overheads = {
    ...song,
    mics: song.mics.map((m) => (m.piece === "overhead" ? m : { ...m, muted: true })),
  };
  const [at, above] = [finished, await rendered(without(overheads, true), audio)].map((kit) =>
    placesFound(kit, strokes, sampleRate),
  );
  const told = Object.entries(balanceFound(finished, strokes, sampleRate)).map(
    ([k, v]) => `${k} ${v.toFixed(1)}`,
  );
  const beside = [...at!].map(([piece, place]) => `${piece} ${(place - above!.get(piece)!).toFixed(0)} %`);
  say(
    `${folder.split("/").at(-1)}: against what is wanted ${told.join(", ")}; beside its place in the overheads ${beside.join(", ")}`,
  );
  say(
    `${folder.split("/").at(-1)}: ${Object.entries(row)
      .map(([k, v]) => `${k} ${v.toFixed(2)}`)
      .join(", ")}`,
  );
  const world = worldOf(folder);
  found.set(world, [...(found.get(world) ?? []), row]);
}
for (const [world, rows] of found)
  say(
    `${world} (${rows.length}): ${Object.keys(rows[0]!)
      .map((k) => `${k} ${median(rows.map((r) => r[k]!)).toFixed(2)} dB`)
      .join(", ")}`,
  );
