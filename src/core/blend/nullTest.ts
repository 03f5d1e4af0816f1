import { stillFader } from "../song/levelMoves";
import { memoryReader, renderSong } from "../engine/renderSong";
import { isFree } from "../song/chain";
import { newBus } from "../song/create";
import { nameOf, ownersOf, type Owner } from "../song/graph";
import { freeBusId } from "../song/parallelCopy";
import type { Bus, Mic, Send, Song } from "../song/song";
import { RealFft } from "../signal/fft";
import { gainToDb } from "../signal/level";

/** Frames that are looked at: 0.7 s at 48 kHz. */
export const nullFrames = 32768;
/** What a path may leave against its own peak, dB. */
export const nullBudgetDb = -120;
/** Nothing at all is told as this, dB. */
const nothingDb = -300;

/** What is left when a path is turned over against what goes into it. */
export interface NullResult {
  /** Largest sample that is left against the largest of what went in, dB. */
  readonly residueDb: number;
  /** Where it lies, Hz; null when it is within the budget. */
  readonly worstHz: number | null;
  /** It is within the budget. */
  readonly holds: boolean;
}

const silenced = <T extends Owner>(owner: T): T => ({
  ...owner,
  chain: owner.chain.map((p) => (isFree(p) && p.on ? { ...p, on: false } : p)),
  soloed: false,
});

/** The song with a bus beside the path that gets the same and has nothing in it; ids of both. */
function withReference(song: Song, path: Bus): { song: Song; reference: string } {
  const reference = freeBusId(song, "null-reference");
  const doubled = (owner: Owner): Send[] => {
    const own = owner.sends.filter((s) => s.bus === path.id).map((s) => ({ ...s, bus: reference }));
    const straight =
      owner.output === path.id
        ? [{ bus: reference, level: 0, from: "fader", followsPan: true } as const]
        : [];
    return [...owner.sends, ...own, ...straight];
  };
  const plain = { pan: 0, width: 100, level: 0, ...stillFader, muted: false };
  const beside = newBus(reference, "Null", "parallel", { output: path.output });
  return {
    reference,
    song: {
      ...song,
      edits: [],
      bleed: {},
      hits: [],
      sections: [],
      mics: song.mics.map((m): Mic => ({ ...silenced(m), ownEdits: [], muted: false, sends: doubled(m) })),
      buses: [
        beside,
        ...song.buses.map((b): Bus => ({
          ...silenced(b),
          sends: b.id === path.id ? [] : doubled(b),
          ...(b.id === path.id ? plain : { muted: false }),
        })),
      ],
    },
  };
}

/**
 * The null test of a parallel path: the effect of every processor is silenced while it takes its time, the path is turned over,
 * and added to what went into it where both arrive. What is left is what was not in time.
 * Shape   audio [mic][channel], `nullFrames` frames of the song; `id` of the bus.
 * Errors  RangeError for a bus that is not there, the kit, or one that nothing goes to.
 */
export async function nullTest(
  song: Song,
  id: string,
  audio: readonly (readonly Float32Array[])[],
): Promise<NullResult> {
  const path = song.buses.find((b) => b.id === id);
  if (!path || path.output === null) throw new RangeError("only a path beside others can be turned over");
  const fed = ownersOf(song).some((o) => o.output === id || o.sends.some((s) => s.bus === id));
  if (!fed) throw new RangeError(`nothing goes into ${nameOf(path)}`);
  const { song: doubled, reference } = withReference({ ...song, frames: nullFrames }, path);
  const heard = async (soloed: string): Promise<Float32Array[]> => {
    const kit = [new Float32Array(nullFrames), new Float32Array(nullFrames)];
    let at = 0;
    const alone = { ...doubled, buses: doubled.buses.map((b) => ({ ...b, soloed: b.id === soloed })) };
    const starts = alone.mics.map((m) => ({ ...m, start: 0, frames: nullFrames }));
    await renderSong(
      { ...alone, mics: starts },
      memoryReader(audio),
      { kit: true, stems: false, buses: false },
      (_, channels, n) => {
        channels.forEach((x, ch) => kit[ch]!.set(x.subarray(0, n), at));
        at += n;
      },
    );
    return kit;
  };
  const [turned, straight] = [await heard(id), await heard(reference)];
  return residueOf(straight, turned, song.sampleRate);
}

/** What is left of a signal when another is turned over and added. Shape  channels of `nullFrames` frames each. */
export function residueOf(
  straight: readonly Float32Array[],
  turned: readonly Float32Array[],
  sampleRate: number,
): NullResult {
  const left = straight.map((x, ch) => x.map((v, i) => v - turned[ch]![i]!));
  const peak = (channels: readonly Float32Array[]) =>
    channels.reduce((most, x) => x.reduce((m, v) => Math.max(m, Math.abs(v)), most), 0);
  const [residue, whole] = [peak(left), peak(straight)];
  const residueDb = residue === 0 || whole === 0 ? nothingDb : gainToDb(residue / whole);
  const holds = residueDb <= nullBudgetDb;
  return { residueDb, holds, worstHz: holds ? null : worst(left, sampleRate) };
}

/** Frequency at which most is left, Hz. */
function worst(left: readonly Float32Array[], sampleRate: number): number {
  const fft = RealFft.of(nullFrames);
  const spectrum = fft.spectrum();
  const power = new Float64Array(nullFrames / 2 + 1);
  for (const x of left) {
    fft.forward(x, 0, nullFrames, spectrum);
    for (let k = 0; k < power.length; k++) power[k] = power[k]! + spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
  }
  const most = power.reduce((best, v, k) => (v > power[best]! ? k : best), 1);
  return (most * sampleRate) / nullFrames;
}
