import type { AnalysedMic, KitAnalysis, KitMic } from "./analysed";
import type { BandEnergies, EnergiesBySignal, EnergiesHere } from "../hits/bandEnergies";
import { detectHits } from "../hits/detectHits";
import { thinned, type HeardMic } from "../hits/events";
import { gainToDb, peakOf } from "../signal/level";
import { hitsOfLoop } from "../loops/findLoopStrokes";
import { isDrum, mainMic, type Hit, type Piece } from "../song/song";
import { guessLabels, type Label } from "../gather/labels";
import { runHere, type MicTaskRunner } from "./micTasks";
import { isOneMicTwice } from "../gather/channels";
import { labelsFromSound } from "../gather/soundLabels";
import { measureTimings, type Timings } from "./measureTimings";
import type { Samples } from "../signal/samples";

/** Peak under which a file counts as silent, dBFS. */
const silentBelow = -60;
/** Played with sticks and often left without a mic: then the overheads tell. */
const cymbalPieces: readonly Piece[] = ["hat", "ride", "crash"];
/** Labels less sure than this are made out by the sound. */
const sureEnough = 0.5;
/** Reports the share done, 0..1, and may throw to cancel. */
export type Progress = (share: number) => void;

/** Energies of the sum of some channels, each computed once; tells progress from one share to another. */
type EnergyDesk = (
  signals: readonly (readonly Samples[])[],
  from: number,
  to: number,
) => Promise<BandEnergies[]>;

function energyDesk(
  sampleRate: number,
  { run = runHere, progress = () => {}, energies: known = new Map(), keep = async (e) => e }: AnalyseOptions,
): EnergyDesk {
  const keyOf = (channels: readonly Samples[]) => (channels.length === 1 ? channels[0]! : channels);
  return async (signals, from, to) => {
    const fresh = signals.filter((channels) => !known.has(keyOf(channels)));
    let count = 0;
    // Each is put away as it comes, so that they are never in memory together.
    const work = fresh.map(async (channels) => {
      const [answer] = await run("energies", [{ channels, sampleRate }]);
      known.set(keyOf(channels), await keep(answer!));
      progress(from + ((to - from) * ++count) / fresh.length);
    });
    await Promise.all(work);
    return signals.map((channels) => known.get(keyOf(channels))!);
  };
}

/** Labels by name where two equal channels were taken for a pair; what was set by hand stays. */
function withoutFalsePairs(mics: readonly KitMic[]): Label[] {
  const twice = mics.map((m) => m.label.place === "pair" && m.label.sure < 1 && isOneMicTwice(m.channels));
  if (!twice.includes(true)) return mics.map((m) => m.label);
  const named = guessLabels(
    mics.map((m, i) => ({ file: m.file, channels: twice[i] ? 1 : m.channels.length })),
  );
  return mics.map((m, i) => (twice[i] ? named[i]! : m.label));
}

/** Labels whose name says too little are made out by their sound. */
async function settleLabels(
  mics: readonly KitMic[],
  silent: readonly boolean[],
  energiesOf: EnergyDesk,
  sampleRate: number,
): Promise<Label[]> {
  const unnamed = mics.map((m, i) => m.label.sure < sureEnough && !silent[i]);
  if (!unnamed.includes(true)) return mics.map((m) => m.label);
  const energies = await energiesOf(
    mics.map((m) => m.channels),
    0.05,
    0.3,
  );
  const asked = mics.map((m, i) => ({
    channels: m.channels,
    silent: silent[i]!,
    label: unnamed[i] ? null : m.label,
  }));
  const heard = labelsFromSound(asked, energies, sampleRate);
  return mics.map((m, i) => (unnamed[i] ? heard[i]! : m.label));
}

/** Strokes that baked loops tell of drums that nothing else tells of. */
async function loopHits(
  mics: readonly {
    readonly piece: Piece;
    readonly silent: boolean;
    readonly channels: readonly Samples[];
  }[],
  known: readonly Hit[],
  sampleRate: number,
  run: MicTaskRunner,
): Promise<Hit[]> {
  const drums = new Set([...known, ...mics].map((h) => h.piece));
  const loops = mics.filter((m) => m.piece === "loop" && !m.silent);
  const found = await run(
    "loopStrokes",
    loops.map(({ channels }) => ({ channels, sampleRate })),
  );
  return found.flatMap((strokes) => hitsOfLoop(strokes, 0)).filter((h) => !drums.has(h.piece));
}

/** A mic with what it is and whether it is silent. */
interface KnownMic extends KitMic {
  readonly piece: Piece;
  readonly place: Label["place"];
  readonly silent: boolean;
}

/** Main mics of the drums, each once. */
const mainsOf = (mics: readonly KnownMic[]): KnownMic[] =>
  [...new Set(mics.map((m) => m.piece))]
    .filter(isDrum)
    .map((piece) => mainMic(mics, piece))
    .filter((m) => m !== undefined);

/** What strokes are looked for in: main mics, one second mic of every drum, the overheads. */
function heardIn(mics: readonly KnownMic[], mains: readonly KnownMic[]): HeardMic[] {
  if (mains.length === 0) return [];
  return mics.flatMap((mic): HeardMic[] => {
    const { piece, silent, channels } = mic;
    if (silent) return [];
    if (piece === "overhead" && !mains.includes(mic))
      return channels.slice(0, 2).map((audio) => ({ piece, audio, role: "far" }));
    if (!isDrum(piece)) return [];
    const heard = (role: "main" | "second"): HeardMic[] => [{ piece, audio: channels[0]!, role }];
    if (mains.includes(mic)) return heard("main");
    // One second mic of a drum says what more of them would.
    const second = mics.find((o) => o.piece === piece && !o.silent && !mains.includes(o));
    return mic === second ? heard("second") : [];
  });
}

/** What the analysis says of every mic. */
const analysedOf = (
  mics: readonly KnownMic[],
  peaks: readonly number[],
  hits: readonly Hit[],
  { drifts, seconds }: Timings,
): AnalysedMic[] => {
  const struck = new Set(hits.map((h) => h.piece));
  return mics.map((m, i): AnalysedMic => {
    const main = isDrum(m.piece) ? mainMic(mics, m.piece) : undefined;
    const second = seconds[i];
    return {
      file: m.file,
      channels: m.channels.length,
      piece: m.piece,
      place: m.place,
      sure: m.label.sure,
      silent: m.silent,
      unplayed: !m.silent && main !== undefined && !struck.has(m.piece),
      peakDbfs: peaks[i]!,
      reference: second?.main.file ?? null,
      polarity: second?.timing?.polarity ?? 1,
      delaySamples: second?.timing?.delay ?? 0,
      confidence: second?.timing?.confidence ?? 0,
      strokes: second?.timing?.hits ?? 0,
      driftPpm: drifts.get(m.file) ?? second?.timing?.driftPpm ?? 0,
    };
  });
};

export interface AnalyseOptions {
  readonly progress?: Progress;
  readonly run?: MicTaskRunner;
  /** Energies that are worked out are put in here, for whoever goes on with them. */
  readonly energies?: EnergiesBySignal | undefined;
  /** Puts energies away where memory does not hold them; what is read afterwards. */
  readonly keep?: ((e: EnergiesHere) => Promise<BandEnergies>) | undefined;
}

/**
 * Analyses a delivered kit: silent and unplayed mics, strokes, tempo, delays between mics of one drum and from every
 * drum to every far mic.
 * Shape   lengths of the channels may differ. Sample rate Hz.
 */
export async function analyseKit(
  recorded: readonly KitMic[],
  sampleRate: number,
  options: AnalyseOptions = {},
): Promise<KitAnalysis> {
  const { progress = () => {}, run = runHere } = options;
  const named = withoutFalsePairs(recorded);
  const mics = recorded.map((m, i) => ({ ...m, label: named[i]! }));
  const peaks = mics.map((m) => m.peakDbfs ?? gainToDb(Math.max(...m.channels.map((x) => peakOf(x)))));
  const silent = peaks.map((p) => p < silentBelow);
  progress(0.05);
  const energiesOf = energyDesk(sampleRate, options);
  const labels = await settleLabels(mics, silent, energiesOf, sampleRate);
  const facts = mics.map((m, i): KnownMic => {
    const label = labels[i]!;
    return { ...m, label, piece: label.piece, place: label.place, silent: silent[i]! };
  });
  const mains = mainsOf(facts);
  const missing = cymbalPieces.filter((piece) => !mains.some((f) => f.piece === piece));
  const heard = heardIn(facts, mains);
  const energies = await energiesOf(
    heard.map((c) => [c.audio]),
    0.3,
    0.6,
  );
  const detected = await detectHits(
    heard,
    energies,
    sampleRate,
    missing,
    (share) => progress(0.6 + 0.1 * share),
    { rises: (asks) => run("rises", asks), strokes: (asks, done) => run("strokes", asks, done) },
  );
  const { events } = detected;
  const inLoops = await loopHits(facts, detected.hits, sampleRate, run);
  const hits = [...detected.hits, ...inLoops].sort((a, b) => a.time - b.time);
  const frames = mics.reduce((most, m) => Math.max(most, m.channels[0]!.length), 0);
  progress(0.75);
  const [timings, [tempo]] = await Promise.all([
    measureTimings(facts, hits, sampleRate, run),
    run("tempo", [{ hits, seconds: frames / sampleRate }]),
  ]);
  progress(1);
  return {
    sampleRate,
    durationSeconds: frames / sampleRate,
    mics: analysedOf(facts, peaks, hits, timings),
    arrivals: timings.arrivals,
    tempo: tempo ?? null,
    hits,
    events: events.map(thinned),
  };
}
