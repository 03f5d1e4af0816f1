import { digestKit, type Digest } from "../clean/judgeKit";
import type { Facts } from "../facts/facts";
import { applyOperation } from "../song/operations";
import type { Song } from "../song/song";
import type { KitAnalysis } from "./analysed";
import { gatherFacts, type KnownBefore } from "./measureFacts";
import { runHere, type MicTaskRunner } from "./micTasks";
import { takeAnalysis } from "./takeAnalysis";
import type { Samples } from "../signal/samples";

export interface MeasureOptions {
  /** Spreads the mics over threads. */
  readonly run?: MicTaskRunner;
  /** Told the number of mics whose facts are measured; may throw to cancel. */
  readonly done?: (count: number) => void;
  /** Whether ways of cleaning are judged: long work that only Clean and what comes behind it need. */
  readonly cleaning?: boolean;
  /** Whether flavours are fitted: long work that only Shape and what comes behind it need. */
  readonly shaping?: boolean;
  /** What is known of the mics from before. */
  readonly known?: KnownBefore;
}

/** The song with what was found taken, bleed included, and what its proposals stand on. */
export interface MeasuredSong {
  readonly song: Song;
  readonly facts: Facts;
}

/**
 * Takes an analysis into a song and measures what the proposals need: bleed, facts of every mic, ways of cleaning. The
 * one pipeline behind the application's analysis and the command line's mix.
 * Shape   audio per mic of the song, in its order, and channel, from the song's first frame on.
 */
export async function measureSong(
  plain: Song,
  analysis: KitAnalysis,
  audio: readonly (readonly Samples[])[],
  { run = runHere, done, cleaning = true, shaping = true, known }: MeasureOptions = {},
): Promise<MeasuredSong> {
  const labelled = applyOperation(plain, takeAnalysis(plain, analysis)).song;
  const { mics, hits } = labelled;
  /** What every mic hears of the others, and by that what cleaning is judged by. */
  const others = async (): Promise<{ song: Song; digest: Digest | null }> => {
    const [bleed] = await run("bleed", [{ mics, audio, hits, sampleRate: plain.sampleRate }]);
    const { song } = applyOperation(labelled, { op: "setSong", values: { bleed: bleed! } });
    return { song, digest: cleaning ? await digestKit(song, audio, (asks) => run("moment", asks)) : null };
  };
  const [{ song, digest }, gathered] = await Promise.all([
    others(),
    gatherFacts(mics, audio, analysis, { run, done, shaping, known }),
  ]);
  const judged = digest ? await run("cleaning", [{ song, facts: gathered, digest }]) : [];
  return { song, facts: { ...gathered, cleaning: judged[0] ?? {} } };
}
