import { RealFft } from "../signal/fft";
import { quantile } from "../signal/level";
import { isDrum, isShell, type HeardDrums, type Hit, type Mic, type Piece } from "../song/song";
import { bandBins, bandPowers, bleedBands, lookFrames, lookWindow } from "../signal/bleedBands";
import { anchorOf, observes } from "./observers";
import type { Samples } from "../signal/samples";

/** Strokes of a drum that are looked at, spread over the song, and looks at each of them. */
const mostStrokes = 30;
const looksPerStroke = 4;
/** Looks from which the usual level of a mic is taken. */
const usualLooks = 160;
/** How long a drum rings in its own mics after a stroke, s: till then they say nothing of the others' bleed. */
const rings = (piece: Piece): number => (piece === "kick" || piece === "snare" ? 0.25 : 0.6);
/** Strokes of two drums within this time are one event, s. */
const together = 0.06;
/** Strokes under which a ratio is a guess, and that guess, dB. */
const fewestStrokes = 3;
const guessDb = -25;
/** Of a drum's strokes heard in another mic: others may sound along in the louder ones. */
const bleedQuantile = 0.3;

/** Looks at a signal at given frames: their mean energies by band, in the order of the frames. */
class Looks {
  private readonly fft: RealFft;
  private readonly window: Float64Array;
  private readonly bins: Int32Array;
  private readonly spectrum;

  constructor(
    private readonly size: number,
    sampleRate: number,
  ) {
    this.fft = RealFft.of(size);
    this.window = lookWindow(size);
    this.bins = bandBins(size, sampleRate);
    this.spectrum = this.fft.spectrum();
  }
  /** Energies [band] of the looks that begin at `frame` and follow each other by half their length. */
  at(x: Samples, frame: number, count: number): Float64Array {
    const sum = new Float64Array(bleedBands);
    const one = new Float64Array(bleedBands);
    for (let i = 0; i < count; i++) {
      this.fft.forward(x, frame + (i * this.size) / 2, this.size, this.spectrum, this.window);
      bandPowers(this.spectrum, this.bins, this.size, one);
      for (let b = 0; b < bleedBands; b++) sum[b]! += one[b]!;
    }
    return sum;
  }
}

const spread = <T>(list: readonly T[], most: number): T[] =>
  list.length <= most
    ? [...list]
    : Array.from({ length: most }, (_, i) => list[Math.floor((i * list.length) / most)]!);

const decibels = (ratio: number): number => Math.round(100 * Math.log10(Math.max(1e-9, ratio))) / 10;

/** True where a drum of that mic is silent by itself at an instant: what is heard then is bleed. */
function resting(own: readonly number[], piece: Piece, t: number): boolean {
  return !own.some((h) => h > t - rings(piece) && h < t + together);
}

/** What a channel usually holds by band, over looks spread along the song. */
function usualOf(looks: Looks, x: Samples): Float64Array {
  const usual = new Float64Array(bleedBands);
  for (let i = 0; i < usualLooks; i++) {
    const one = looks.at(x, Math.floor((i * x.length) / usualLooks), 1);
    for (let b = 0; b < bleedBands; b++) usual[b]! += one[b]! / usualLooks;
  }
  return usual;
}

/** A kit as its bleed is measured. */
export interface BleedAsk {
  readonly mics: readonly Mic[];
  /** Per mic and channel, from the song's first frame on. */
  readonly audio: readonly (readonly Samples[])[];
  readonly hits: readonly Hit[];
  readonly sampleRate: number;
}

/**
 * How every close mic and overhead hears every drum, by band: at a drum's strokes, the energy in a mic against that in
 * the drum's own mic, over strokes at which the mic's own drum rests.
 * Shape   by mic id, one entry a channel; mics that hear no drums or are silent have none.
 */
export function measureBleed({ mics, audio, hits, sampleRate }: BleedAsk): Record<string, HeardDrums[]> {
  const size = lookFrames(sampleRate);
  const looks = new Looks(size, sampleRate);
  const times = (piece: Piece, mains: boolean) =>
    hits.filter((h) => h.piece === piece && !(mains && h.ghost)).map((h) => h.time);
  const played = [...new Set(hits.map((h) => h.piece))].filter((p) => anchorOf(mics, p) !== null);
  const strokes = new Map(
    played.map((p) => {
      const mains = times(p, true);
      // A drum that is only whispered on is heard by its ghost notes.
      return [p, spread(mains.length < fewestStrokes ? times(p, false) : mains, mostStrokes)] as const;
    }),
  );
  const frameOf = (t: number) => Math.round(t * sampleRate);
  const atStrokes = (x: Samples, piece: Piece) =>
    strokes.get(piece)!.map((t) => looks.at(x, frameOf(t), looksPerStroke));
  const anchors = new Map(
    played.map((p) => {
      const { mic, channel } = anchorOf(mics, p)!;
      return [p, { mic, channel, energies: atStrokes(audio[mic]![channel]!, p) }];
    }),
  );

  const channelOf = (mic: Mic, x: Samples, isAnchor: (p: Piece) => boolean): HeardDrums => {
    const all = isDrum(mic.piece) ? times(mic.piece, false) : [];
    const usual = usualOf(looks, x);
    const drums: Partial<Record<Piece, number[]>> = {};
    for (const piece of played) {
      if (isAnchor(piece)) {
        drums[piece] = new Array<number>(bleedBands).fill(0);
        continue;
      }
      const own = piece === mic.piece;
      const usable = strokes.get(piece)!.map((t) => own || !isShell(mic.piece) || resting(all, mic.piece, t));
      const here = atStrokes(x, piece);
      const there = anchors.get(piece)!.energies;
      const ratios = (b: number) => here.flatMap((e, i) => (usable[i] ? [e[b]! / there[i]![b]!] : []));
      const count = usable.filter(Boolean).length;
      drums[piece] = Array.from({ length: bleedBands }, (_, b) =>
        count < fewestStrokes ? guessDb : decibels(quantile(ratios(b), own ? 0.5 : bleedQuantile)),
      );
    }
    return { usualDb: [...usual].map(decibels), drums };
  };
  const heardBy = (mic: Mic, m: number): HeardDrums[] =>
    audio[m]!.map((x, ch) => {
      const isAnchor = (p: Piece) => anchors.get(p)!.mic === m && anchors.get(p)!.channel === ch;
      return channelOf(mic, x, isAnchor);
    });
  return Object.fromEntries(mics.flatMap((mic, m) => (observes(mic) ? [[mic.id, heardBy(mic, m)]] : [])));
}
