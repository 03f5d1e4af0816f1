import { correlation, type Measurement } from "../measure/measureAudio";
import { designButterworth } from "../signal/biquad";
import { FilteredSamples } from "../signal/filteredSamples";
import { gainToDb, powerOf, powerToDb } from "../signal/level";
import { piecesTogether, type Samples } from "../signal/samples";
import { isKitMic, type Song, type Step } from "../song/song";
import { targets, usualDelivery, type Delivery } from "./delivery";
import { peakCeiling, type TargetGain } from "./loudnessTarget";

/** What is looked at in a delivered kit beside its loudness and peaks. */
export interface KitChecks {
  /** Silence before the first and behind the last sound, s. */
  readonly silentStart: number;
  readonly silentEnd: number;
  /** What folding to mono takes, dB: 0 nothing, -3.01 as of unrelated sides. */
  readonly monoLossDb: number;
  /** Likeness of both sides below 120 Hz, -1..1. */
  readonly lowCorrelation: number;
}

/** Under this there is silence, dBFS, and the low end lies below this, Hz (common practice, no source). */
const [silentBelow, lowBelow] = [-72, 120];

/** Measures both sides of a kit. Shape  two channels of one length. */
export function checkKit(channels: readonly Samples[], sampleRate: number): KitChecks {
  const [left, right] = [channels[0]!, channels[channels.length - 1]!];
  const { first, last, monoPower } = soundOf(left, right);
  const both = (powerOf(left) + powerOf(right)) / 2;
  const low = [left, right].map(
    (x) => new FilteredSamples(x, designButterworth("low", lowBelow, 4, sampleRate)),
  );
  return {
    silentStart: first / sampleRate,
    silentEnd: Math.max(0, left.length - 1 - last) / sampleRate,
    monoLossDb: both > 0 ? powerToDb(monoPower) - powerToDb(both) : 0,
    lowCorrelation: correlation(low[0]!, low[1]!),
  };
}

/** First and last frame of two sides that is no silence, all of it where there is none, and the power of both folded to one. */
function soundOf(left: Samples, right: Samples): { first: number; last: number; monoPower: number } {
  const loud = 10 ** (silentBelow / 20);
  let [first, last, energy, at] = [-1, -1, 0, 0];
  for (const pieces of piecesTogether([left, right])) {
    const [a, b] = [pieces[0]!, pieces[1]!];
    for (let i = 0; i < a.length; i++, at++) {
      const mono = Math.fround((a[i]! + b[i]!) / 2);
      energy += mono * mono;
      if (Math.max(Math.abs(a[i]!), Math.abs(b[i]!)) <= loud) continue;
      if (first < 0) first = at;
      last = at;
    }
  }
  const monoPower = left.length > 0 ? energy / left.length : 0;
  return first < 0 ? { first: left.length, last: left.length - 1, monoPower } : { first, last, monoPower };
}

export type Grade = "passes" | "look" | "fails";
/** One check: what was measured, what that means, and where it is mended. */
export interface Verdict {
  readonly name: string;
  readonly figure: string;
  readonly grade: Grade;
  readonly reason: string;
  readonly step: Step | null;
}

export interface Delivered {
  readonly kit: Measurement;
  readonly checks: KitChecks;
  readonly gain: TargetGain;
  /** What the buses leave when they are summed and the kit taken away, dB against it; null: it was not measured, and why. */
  readonly sumDb: number | null;
  readonly sumWhy: string;
}

const db = (x: number, digits = 1): string =>
  Number.isFinite(x) ? x.toFixed(digits).replace("-", "−") : "−∞";
const grades: readonly Grade[] = ["fails", "look", "passes"];
/** Highest true peak that passes, dBTP: -1 (EBU R 128), and what measure and limiter round. */
const peakPasses = peakCeiling + 0.05;
/** How far a target may be missed, dB or LU (EBU R 128: 1 LU where it cannot be met exactly). */
const near = 1;
const tooQuiet = -40;
const offset = 0.001;
const mostSilence = 2;
/** Sums of files that are no better than this are no sums, dB. */
const sums = -120;

/** Whether the target is met. */
function ofTarget({ kit, gain }: Delivered, delivery: Delivery): Verdict {
  const target = targets[delivery.target];
  if (target.kind === "none")
    return { name: "Target", figure: "none", grade: "passes", reason: "nothing was asked for", step: null };
  const reached = target.kind === "peak" ? kit.truePeakDb : kit.integrated;
  const missed = Math.abs(reached - target.value);
  return {
    name: `Target ${target.label}`,
    figure: `${db(reached)}, ${gain.gainDb >= 0 ? "+" : ""}${db(gain.gainDb)} dB`,
    grade: missed <= 0.1 ? "passes" : missed <= near ? "look" : "fails",
    reason:
      gain.shortDb > 0.05
        ? `its peaks keep it ${db(gain.shortDb)} dB below: allow the limiter, or take peaks down in the mix`
        : gain.limits
          ? "reached with the limiter"
          : "reached by gain alone",
    step: null,
  };
}

/** Peaks and loudness. */
const ofLevels = ({ kit }: Delivered): Verdict[] => [
  {
    name: "True peak",
    figure: `${db(kit.truePeakDb)} dBTP`,
    grade: kit.truePeakDb <= peakPasses ? "passes" : kit.truePeakDb <= 0 ? "look" : "fails",
    reason:
      kit.truePeakDb <= peakPasses
        ? "a lossy copy does not clip"
        : "above −1 dBTP a lossy copy may clip: lower the kit, or put a limiter at its end",
    step: "blend",
  },
  {
    name: "Clipped samples",
    figure: String(kit.clippedSamples),
    grade: kit.clippedSamples === 0 ? "passes" : "fails",
    reason: kit.clippedSamples === 0 ? "none" : "the kit is over full scale: lower it",
    step: "blend",
  },
  {
    name: "Loudness",
    figure: `${db(kit.integrated)} LUFS, range ${db(kit.range)} LU, crest ${db(kit.crestDb)} dB`,
    grade: kit.integrated > tooQuiet ? "passes" : "look",
    reason: kit.integrated > tooQuiet ? "for information" : "very quiet: set the trims",
    step: "gather",
  },
];

/** How the sides stand to each other. */
const ofSides = ({ kit, checks }: Delivered): Verdict[] => [
  {
    name: "Mono",
    figure: `${db(checks.monoLossDb)} dB, sides alike ${kit.correlation.toFixed(2).replace("-", "−")}`,
    grade: checks.monoLossDb > -3.1 ? "passes" : checks.monoLossDb > -6 ? "look" : "fails",
    reason:
      checks.monoLossDb > -3.1
        ? "folded it loses no more than unrelated sides do"
        : "sides cancel when they are folded: look at the mono check of Align",
    step: "align",
  },
  {
    name: "Phase of the low end",
    figure: `alike ${checks.lowCorrelation.toFixed(2).replace("-", "−")} below 120 Hz`,
    grade: checks.lowCorrelation > 0.3 ? "passes" : checks.lowCorrelation > -0.2 ? "look" : "fails",
    reason:
      checks.lowCorrelation > 0.3
        ? "both sides push together"
        : "the low end differs between the sides: align the pairs, or fold it to mono",
    step: "align",
  },
];

/** What is no drum: an offset, and silence at the ends. */
const ofEnds = ({ kit, checks }: Delivered): Verdict[] => [
  {
    name: "Constant part",
    figure: `${db(20 * Math.log10(Math.max(1e-7, Math.abs(kit.dc))))} dBFS`,
    grade: Math.abs(kit.dc) < offset ? "passes" : "look",
    reason: Math.abs(kit.dc) < offset ? "none to speak of" : "there is an offset in a mic: high-pass it",
    step: "shape",
  },
  {
    name: "Silence",
    figure: `${checks.silentStart.toFixed(2)} s before, ${checks.silentEnd.toFixed(2)} s behind`,
    grade: Math.max(checks.silentStart, checks.silentEnd) <= mostSilence ? "passes" : "look",
    reason:
      Math.max(checks.silentStart, checks.silentEnd) <= mostSilence
        ? "within two seconds"
        : "long silence: deliver a section, or a shorter tail",
    step: null,
  },
];

const ofSum = ({ sumDb, sumWhy }: Delivered): Verdict => ({
  name: "Buses sum to the kit",
  figure: sumDb === null ? "not measured" : sumDb <= -299 ? "nothing left" : `${db(sumDb, 0)} dB left`,
  grade: sumDb === null || sumDb <= sums ? "passes" : "look",
  reason:
    sumDb === null ? sumWhy : sumDb <= sums ? "their sum is the kit" : "the kit's own chain changes the sum",
  step: sumDb === null ? null : "blend",
});

const ofKit = (delivered: Delivered, delivery: Delivery): Verdict[] => [
  ofTarget(delivered, delivery),
  ...ofLevels(delivered),
  ...ofSides(delivered),
  ...ofEnds(delivered),
  ofSum(delivered),
];

/** Mics that are heard but never played, and those that one may have forgotten. */
function ofMics(song: Song): Verdict[] {
  const names = (list: readonly { file: string }[]) => list.map((m) => m.file).join(", ");
  const kit = song.mics.filter((m) => isKitMic(song, m));
  const idle = kit.filter((m) => !m.muted && (m.unplayed || m.silent));
  const muted = kit.filter((m) => m.muted && !m.unplayed && !m.silent);
  const soloed = [...song.mics, ...song.buses].filter((o) => o.soloed);
  return [
    {
      name: "Mics that are never played",
      figure: `${idle.length} open`,
      grade: idle.length === 0 ? "passes" : "look",
      reason: idle.length === 0 ? "none is open" : `they bring noise alone: ${names(idle)}`,
      step: "blend",
    },
    {
      name: "Muted mics",
      figure: String(muted.length),
      grade: muted.length === 0 ? "passes" : "look",
      reason: muted.length === 0 ? "none that is played" : `not in the kit: ${names(muted)}`,
      step: "blend",
    },
    ...(soloed.length > 0
      ? [
          {
            name: "Solo",
            figure: String(soloed.length),
            grade: "fails" as const,
            reason: "only what is soloed was rendered",
            step: "blend" as const,
          },
        ]
      : []),
  ];
}

/** Checks that mean something of a stretch of the kit as it stands, before anything is delivered. */
const ofAStretch = ["Target", "Silence", "Buses sum to the kit"];

/** Verdicts on the kit as it stands, measured over a stretch, worst first. */
export const verdictsNow = (song: Song, measured: Pick<Delivered, "kit" | "checks">): Verdict[] =>
  verdictsOf(song, usualDelivery, {
    ...measured,
    gain: { gainDb: 0, shortDb: 0, limits: false },
    sumDb: null,
    sumWhy: "",
  }).filter(({ name }) => !ofAStretch.includes(name));

/** Verdicts on a delivery, worst first. */
export const verdictsOf = (song: Song, delivery: Delivery, delivered: Delivered): Verdict[] =>
  [...ofKit(delivered, delivery), ...ofMics(song)].sort(
    (a, b) => grades.indexOf(a.grade) - grades.indexOf(b.grade),
  );

/** Largest sample of a sum's remainder against that of the whole, dB; nothing left is -300. */
export const remainderDb = (left: number, whole: number): number =>
  left === 0 || whole === 0 ? -300 : gainToDb(left / whole);
