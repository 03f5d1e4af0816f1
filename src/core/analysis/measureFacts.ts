import { pansByOverheads } from "../clean/stereoPosition";
import { labelsOf } from "../song/relabel";
import { isDrum, type Mic, type Song } from "../song/song";
import type { KitAnalysis } from "./analysed";
import type { EnergiesBySignal } from "../hits/bandEnergies";
import type { FileLook } from "./lookAtFile";
import type { MicFacts, MicFactsAsk } from "./micFacts";
import { runHere, type MicTaskRunner } from "./micTasks";
import { factsNow } from "../facts/factsNow";
import { pairGains } from "../facts/pairGains";
import { clockLeft, noFacts, type Facts } from "../facts/facts";
import type { Samples } from "../signal/samples";

/** Kinds of facts that one mic and its main mic tell. */
const ofOneMic = [
  "pairs",
  "rotation",
  "faults",
  "loudness",
  "arrivals",
  "layers",
  "drift",
  "levels",
  "tails",
  "tone",
  "rings",
  "lowEnds",
  "shapes",
  "heardStrokes",
] as const;

/** What is known of mics from before, and need not be worked out again. */
export interface KnownBefore {
  /** What the files tell by themselves, in the order of the mics. */
  readonly looks?: readonly FileLook[] | undefined;
  readonly energies?: EnergiesBySignal | undefined;
}

interface GatherOptions {
  readonly run: MicTaskRunner;
  readonly done?: ((count: number) => void) | undefined;
  /** Whether flavours are fitted. */
  readonly shaping: boolean;
  readonly known?: KnownBefore | undefined;
}

/** Roughly how long a mic's facts take against others': what ends last should not begin last. */
const workOf = ({ mic, channels, shaping }: MicFactsAsk): number =>
  channels[0]!.length *
  (!isDrum(mic.piece) || mic.silent || mic.unplayed ? 1 : shaping && !mic.reference ? 8 : 4);

/** Does tasks, the longest first; answers in the order of the asks. */
async function longestFirst(asks: readonly MicFactsAsk[], { run, done }: GatherOptions): Promise<MicFacts[]> {
  const order = asks.map((_, i) => i).sort((a, b) => workOf(asks[b]!) - workOf(asks[a]!));
  const found = await run(
    "facts",
    order.map((i) => asks[i]!),
    done,
  );
  const answers = new Array<MicFacts>(asks.length);
  order.forEach((i, k) => (answers[i] = found[k]!));
  return answers;
}

/**
 * Measures what the proposals need beyond the analysis.
 * Shape   mics of the song in the order of `audio`; audio per mic and channel from the song's first frame on.
 */
export async function gatherFacts(
  mics: readonly Mic[],
  audio: readonly (readonly Samples[])[],
  analysis: KitAnalysis,
  options: GatherOptions,
): Promise<Facts> {
  const { shaping, known = {} } = options;
  const { sampleRate, hits } = analysis;
  const asks = mics.map((mic, i): MicFactsAsk => {
    const found = analysis.mics.find((m) => m.file === mic.file)!;
    const reference = mics.findIndex((m) => m.file === found.reference);
    const main = reference < 0 ? null : { audio: audio[reference]![0]!, piece: mics[reference]!.piece };
    const arrivals = analysis.arrivals.filter((a) => a.mic === mic.file);
    const before = { look: known.looks?.[i], energies: known.energies?.get(audio[i]![0]!) };
    return { mic, channels: audio[i]!, main, found, arrivals, hits, sampleRate, shaping, ...before };
  });
  const answers = await longestFirst(asks, options);
  const facts: Record<string, Record<string, unknown>> = Object.fromEntries(
    Object.keys(noFacts).map((kind) => [kind, {}]),
  );
  facts["labels"] = labelsOf(mics);
  for (const found of analysis.events) facts["events"]![found.piece] = found;
  mics.forEach((mic, i) => {
    for (const [kind, value] of Object.entries(answers[i]!)) facts[kind]![mic.id] = value;
  });
  const gains = pairGains(mics, facts as unknown as Facts);
  facts["pans"] = pansByOverheads(mics, audio, hits, sampleRate, gains);
  return facts as unknown as Facts;
}

/** Facts of single mics by their labels now: what was measured of them before gives way; what all mics tell stays. */
export async function measureAgain(
  song: Song,
  ids: readonly string[],
  audioOf: (mic: Mic) => Promise<readonly Samples[]>,
  facts: Facts,
  run: MicTaskRunner = runHere,
): Promise<Facts> {
  const asks: MicFactsAsk[] = [];
  for (const mic of song.mics.filter((m) => ids.includes(m.id))) {
    const pair = facts.pairs[mic.id];
    const reference = song.mics.find((m) => m.id === mic.reference);
    asks.push({
      mic,
      channels: await audioOf(mic),
      main: reference ? { audio: (await audioOf(reference))[0]!, piece: reference.piece } : null,
      found: {
        polarity: pair?.polarity ?? 1,
        delaySamples: pair?.delaySamples ?? mic.lateBy,
        confidence: pair?.confidence ?? 0,
        strokes: pair?.strokes ?? 0,
        driftPpm: clockLeft(facts, mic),
      },
      arrivals: (facts.arrivals[mic.id] ?? []).map((a) => ({ ...a, mic: mic.file })),
      hits: song.hits,
      sampleRate: song.sampleRate,
      shaping: true,
    });
  }
  const answers = await run("facts", asks);
  const now = { ...factsNow(song, facts), labels: labelsOf(song.mics) } as unknown as Record<
    string,
    Record<string, unknown>
  >;
  for (const kind of ofOneMic) {
    now[kind] = Object.fromEntries(Object.entries(now[kind]!).filter(([id]) => !ids.includes(id)));
    asks.forEach(({ mic }, i) => {
      const value = answers[i]![kind];
      if (value !== undefined) now[kind]![mic.id] = value;
    });
  }
  return now as unknown as Facts;
}
