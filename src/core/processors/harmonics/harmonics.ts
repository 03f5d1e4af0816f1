import { oversamplingParams } from "../oversampling";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth, type Section } from "../../signal/biquad";
import { DelayLine } from "../../signal/delayLine";
import { HitCursor } from "../../signal/hitCursor";
import { dbToGain } from "../../signal/level";
import { OversampledBend, type Bend } from "../../signal/oversampledBend";
import { Oversampler } from "../../signal/oversampler";
import { bumpOf, characters, emphasis, type Character } from "./characters";

/** Ends of the band at which it is open, Hz. */
const [lowest, highest] = [20, 20000];
export const harmonicsParams = {
  character: choice(
    "Character",
    ["soft", "rounded", "hard", "folded", "one-sided", "low-heavy", "tape-like"],
    "How it bends; folded comes back, one-sided adds even harmonics, low-heavy bends lows first, tape-like highs.",
  ),
  drive: number("Drive", "dB", -12, 36, 6, "Level into the bend."),
  odd: number(
    "Odd harmonics",
    "%",
    0,
    200,
    100,
    "Third, fifth …: 100 is what the bend makes, with the peaks it rounds.",
  ),
  even: number("Even harmonics", "%", 0, 200, 0, "Second, fourth …, apart from the odd ones."),
  low: number(
    "Only above",
    "Hz",
    lowest,
    12000,
    lowest,
    "What lies below is left untouched, in phase.",
    "log",
  ),
  high: number(
    "Only below",
    "Hz",
    60,
    highest,
    highest,
    "What lies above is left untouched, in phase.",
    "log",
  ),
  toneBefore: number(
    "Tone before",
    "dB",
    -12,
    12,
    0,
    "Highs (above zero) or lows bend more; the tone itself stays.",
  ),
  tone: number(
    "Tone behind",
    "Hz",
    1000,
    highest,
    highest,
    "Low-pass of what is made; at its end it is open.",
    "log",
  ),
  follows: choice(
    "Drive follows",
    ["nothing", "attacks", "tails"],
    "More drive at the beginning or in the tail of every stroke.",
  ),
  followDb: number("By", "dB", 0, 24, 9, "Drive added there."),
  followTime: number("Within", "s", 0.002, 0.5, 0.03, "Time in which an attack is over.", "log"),
  output: number("Output", "dB", -24, 24, 0, "Gain after it."),
  level: choice("Level", ["as it comes", "matched"], "Matched: as loud as what comes in, over 0.4 s."),
  ...oversamplingParams,
} as const satisfies ParamTable;
export type HarmonicsValues = ParamValues<typeof harmonicsParams>;

/** What is taken from the even part, which would shift the mean, lies below this, Hz. */
const meanBelow = 15;
/** Time over which levels are matched, s (the window of momentary loudness, EBU R 128). */
const matchSeconds = 0.4;
/** Largest correction of the match, either way. */
const matchMost = 8;

/** What the parameters come to: gains, linear, and filters. `odd`, `even`: shares of what the bend makes of each. */
export function designHarmonics(v: HarmonicsValues, sampleRate: number) {
  const character: Character = characters[v.character];
  const bare = v.odd === 0 && v.even === 0;
  const pass = (side: "high" | "low", f: number): Section[] => designButterworth(side, f, 2, sampleRate);
  const shelves = emphasis(v.character, v.toneBefore, sampleRate);
  return {
    character,
    bend: character.name,
    bare,
    drive: dbToGain(v.drive),
    odd: v.odd / 100,
    even: v.even / 100 + (bare ? 0 : character.lopsided),
    band: [...(v.low > lowest ? pass("high", v.low) : []), ...(v.high < highest ? pass("low", v.high) : [])],
    before: shelves.before,
    behind: [...pass("high", meanBelow), ...(v.tone < highest ? pass("low", v.tone) : []), ...shelves.behind],
    bump: bumpOf(v.character, sampleRate),
    follows: v.follows,
    driveDb: v.drive,
    followDb: v.followDb,
    followTime: v.followTime,
    matched: v.level === "matched",
    output: dbToGain(v.output),
    averaging: Math.exp(-1 / (matchSeconds * sampleRate)),
  };
}
export type HarmonicsDesign = ReturnType<typeof designHarmonics>;

/** Drive so long after a stroke, s, linear. */
export function driveAt(d: HarmonicsDesign, since: number): number {
  if (d.follows === "nothing") return d.drive;
  const attack = Math.exp(-since / d.followTime);
  return dbToGain(d.driveDb + d.followDb * (d.follows === "attacks" ? attack : 1 - attack));
}

/**
 * Adds odd and even harmonics of a band, each by its own amount: what a bend makes of the band beyond the band itself,
 * oversampled, is added to the signal, so that everything outside the band stays untouched and in phase, and nothing is
 * changed where nothing is bent. A tone before the bend is taken back behind it. Drive may follow the strokes that were found. Latency `Oversampler.latency`.
 * Source  odd part: bend(x) - x; even part: x bend(x) has even harmonics only, half of it beyond its square's mean (product of
 *         two odd functions is even). Parallel residual: common practice, no source.
 */
export class Harmonics implements Processor<HarmonicsValues>, Bend {
  readonly latency = Oversampler.latency;
  private rate = 0;
  private design!: HarmonicsDesign;
  private bands: Cascade[] = [];
  private behind: Cascade[] = [];
  private before: Cascade[] = [];
  private bumps: Cascade[] = [];
  private bumpLines: DelayLine[] = [];
  private bumped = new Float32Array(0);
  private bumping = false;
  private samplers: OversampledBend[] = [];
  private lines: DelayLine[] = [];
  private band = new Float32Array(0);
  private drives = new Float64Array(0);
  /** Power of what came in, all channels together, in time with what goes out. */
  private powers = new Float64Array(0);
  private readonly cursor = new HitCursor();
  private came = 0;
  private made = 0;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    const each = <T>(make: () => T): T[] => Array.from({ length: channels }, make);
    this.bands = each(() => new Cascade(2));
    this.before = each(() => new Cascade(2));
    this.behind = each(() => new Cascade(4));
    this.bumps = each(() => new Cascade(1));
    this.bumpLines = each(() => new DelayLine(this.latency));
    this.bumped = new Float32Array(maxFrames);
    this.samplers = each(() => new OversampledBend(maxFrames));
    this.lines = each(() => new DelayLine(this.latency));
    this.band = new Float32Array(maxFrames);
    this.drives = new Float64Array(maxFrames);
    this.powers = new Float64Array(maxFrames);
  }
  set(v: HarmonicsValues): void {
    const d = designHarmonics(v, this.rate);
    this.design = d;
    for (const sampler of this.samplers) sampler.choose(v.oversampling);
    this.bumping = d.bump.length > 0;
    for (const filter of this.bumps) filter.set(d.bump);
    for (const filter of this.before) filter.set(d.before);
    for (const filter of this.bands) filter.set(d.band);
    for (const filter of this.behind) filter.set(d.behind);
  }
  reset(): void {
    const filters = [this.bands, this.before, this.behind, this.bumps].flat();
    for (const one of [...filters, ...this.samplers, ...this.lines, ...this.bumpLines]) one.reset();
    this.came = 0;
    this.made = 0;
  }
  /** What was matched stays matched. */
  adopt(from: Processor<HarmonicsValues>): void {
    if (!(from instanceof Harmonics)) return;
    this.came = from.came;
    this.made = from.made;
  }

  /** Drive of every frame, linear: the strokes are looked up once for all channels. */
  private findDrives({ hits, position }: ProcessContext, frames: number): void {
    const { design, drives } = this;
    if (design.follows === "nothing") {
      drives.fill(design.drive, 0, frames);
      return;
    }
    for (let i = 0; i < frames; i++)
      drives[i] = driveAt(design, (position + i - this.cursor.latest(hits, position + i)) / this.rate);
  }
  bend(fast: Float64Array, frames: number, factor: number): void {
    const { drives } = this;
    const { character, odd, even } = this.design;
    const octaves = Math.log2(factor);
    for (let i = 0; i < factor * frames; i++) {
      const drive = drives[i >> octaves]!;
      const x = drive * fast[i]!;
      fast[i] = (odd * character.odd(x) + even * character.even(x)) / drive;
    }
  }
  process(input: Planar, output: Planar, frames: number, context: ProcessContext): void {
    const { band, powers } = this;
    const { bare } = this.design;
    this.findDrives(context, frames);
    powers.fill(0, 0, frames);
    for (let ch = 0; ch < input.length; ch++) {
      this.bands[ch]!.process(input[ch]!, band, frames);
      if (this.bumping) this.findBump(ch, frames);
      this.before[ch]!.process(band, band, frames);
      this.samplers[ch]!.process(band, band, frames, this);
      this.behind[ch]!.process(band, band, frames);
      const y = output[ch]!;
      this.lines[ch]!.process(input[ch]!, y, frames);
      for (let i = 0; i < frames; i++) {
        powers[i]! += y[i]! ** 2;
        if (!bare) y[i]! += this.bumping ? band[i]! + this.bumped[i]! : band[i]!;
      }
    }
    this.finish(output, frames);
  }
  /** What the low bump adds to the band, as late as the rest. */
  private findBump(ch: number, frames: number): void {
    const { band, bumped } = this;
    this.bumps[ch]!.process(band, bumped, frames);
    for (let i = 0; i < frames; i++) bumped[i]! -= band[i]!;
    this.bumpLines[ch]!.process(bumped, bumped, frames);
  }
  /** Output gain, and the match of the levels of all channels together. */
  private finish(output: Planar, frames: number): void {
    const { averaging, matched, output: out } = this.design;
    if (!matched && out === 1) return;
    for (let i = 0; i < frames; i++) {
      let gain = out;
      if (matched) {
        let made = 0;
        for (let ch = 0; ch < output.length; ch++) made += output[ch]![i]! ** 2;
        const came = this.powers[i]!;
        this.came = came + averaging * (this.came - came);
        this.made = made + averaging * (this.made - made);
        const wanted = this.made > 1e-12 ? Math.sqrt(this.came / this.made) : 1;
        gain *= Math.min(matchMost, Math.max(1 / matchMost, wanted));
      }
      for (let ch = 0; ch < output.length; ch++) output[ch]![i]! *= gain;
    }
  }
}
