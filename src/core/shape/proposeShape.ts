import type { Facts } from "../facts/facts";
import type { LowEnd } from "../facts/lowEnd";
import type { RingDecay } from "../facts/ringDecay";
import { isTamed, ringCut } from "./rings";
import { holding } from "./measureLowEnd";
import type { ShapedDrum } from "../facts/shapedDrum";
import { balanceBands } from "./balance";
import type { Proposal } from "../song/proposal";
import { usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { processorOf } from "../song/create";
import type { ParamValue } from "../params";
import { flavourOf, type Flavour, type Mic, type Piece, type Song } from "../song/song";

function tameRing(m: Mic, { frequency, found, wanted, tamed, strokes }: RingDecay): Proposal {
  return {
    id: `ringTamer:${m.id}`,
    step: "shape",
    owner: m.id,
    sentence: `Let the ring of ${m.file} at ${frequency.toFixed(0)} Hz die in ${tamed.toFixed(2)} s rather than ${found.toFixed(2)} s, measured over ${strokes} strokes.`,
    figure: `T60 ${found.toFixed(2)} → ${tamed.toFixed(2)} s`,
    operation: putProcessor(
      m,
      "ringTamer",
      { frequency, found: Math.max(0.05, Math.min(5, found)), wanted: Math.max(0.03, Math.min(5, wanted)) },
      true,
    ),
  };
}

/** A low end is unruly when its strokes differ by this much there, dB, and by so much more than above it (common practice, no source). */
const unruly = { least: 6, more: 2 };
const isUnruly = ({ spread, spreadAbove, held }: LowEnd): boolean =>
  spread > unruly.least && spread > spreadAbove + unruly.more && held < 0.75 * spread;

function holdLowEnd(m: Mic, { below, spread, held, threshold, strokes }: LowEnd, trim: number): Proposal {
  const values = {
    bands: "2",
    cross1: Math.max(40, below),
    threshold1: Math.max(-60, Math.min(0, threshold + trim)),
  };
  return {
    id: `bandCompressor:${m.id}`,
    step: "shape",
    owner: m.id,
    sentence: `Hold the low end of ${m.file} below ${below} Hz: its ${strokes} strokes differ by ${spread.toFixed(1)} dB there, and by ${held.toFixed(1)} dB behind it.`,
    figure: `${spread.toFixed(1)} → ${held.toFixed(1)} dB`,
    operation: putProcessor(m, "bandCompressor", { ...values, ...holding }, true),
  };
}

const signed = (db: number): string => `${db < 0 ? "−" : "+"}${Math.abs(db).toFixed(1)}`;

/** "weight +2.8, box −4.4 dB": what an EQ changes in the parts of the strokes, the largest first. */
function changeWords(changed: ShapedDrum["changed"]): string {
  const told = balanceBands
    .filter((b) => Math.abs(changed[b]) >= 0.5)
    .sort((a, b) => Math.abs(changed[b]) - Math.abs(changed[a]))
    .slice(0, 3);
  return told.length === 0
    ? "little changes"
    : `${told.map((b) => `${b} ${signed(changed[b])}`).join(", ")} dB`;
}

/** What is in the way of a mic beside its drum: cut without asking its strokes. */
function cutsOf(piece: Piece): Record<string, ParamValue> {
  if (piece === "hat" || piece === "ride" || piece === "crash")
    return { highPassSlope: "12", highPassFrequency: 350 };
  if (piece === "overhead")
    return { highPassSlope: "12", highPassFrequency: 110, highShelfFrequency: 9000, highShelfGain: 1.5 };
  return {};
}

function toneOf(m: Mic, facts: Facts, shaped: ShapedDrum | undefined, flavour: Flavour): Proposal[] {
  const tone = facts.tone[m.id];
  const ring = facts.rings[m.id];
  const proposals = ring && isTamed(m.piece, tone, ring) ? [tameRing(m, ring)] : [];
  const ringEq = ringCut(m.piece, tone, ring);
  // A snare's second mic keeps its own sound beside the first, but for rings.
  const own = m.piece === "snare" && m.reference ? undefined : shaped;
  const eq = { ...cutsOf(m.piece), ...own?.eq, ...ringEq };
  if (Object.keys(eq).length === 0) return proposals;
  const operation = putProcessor(m, "eq", eq, true);
  const card = { id: `eq:${m.id}`, step: "shape", owner: m.id, operation } as const;
  if (!tone) {
    const sentence = `Take from ${m.file} what lies under its drum.`;
    return [...proposals, { ...card, sentence, figure: `${eq["highPassFrequency"]} Hz` }];
  }
  const around = `around its fundamental at ${tone.fundamental.toFixed(0)} Hz`;
  const cut = Object.keys(ringEq).length > 0 ? ` and cut its ring at ${tone.ring.toFixed(0)} Hz` : "";
  if (!own)
    return [
      ...proposals,
      { ...card, sentence: `Shape ${m.file} ${around}${cut}.`, figure: `${tone.fundamental.toFixed(0)} Hz` },
    ];
  const sentence = `Shape ${m.file}, ${flavour}, ${around}${cut}, by what its ${own.strokes} strokes have and lack.`;
  return [...proposals, { ...card, sentence, figure: changeWords(own.changed) }];
}

const loudWords = (lowered: number): string =>
  lowered === 0 ? "as loud as before" : `${lowered.toFixed(1)} dB quieter, for its loudest stroke`;

/** Make-up lifts what lies between the strokes as much as them: told from so much on, dB. */
const liftTold = 2.5;
const lifts = (makeup: number): string =>
  makeup < liftTold ? "" : ` What lies between them comes up by ${makeup.toFixed(1)} dB.`;

function squeezed(m: Mic, { compressor, strokes }: ShapedDrum, trim: number): Proposal[] {
  if (!compressor) return [];
  const { reductionDb, threshold, lowered, ...values } = compressor;
  return [
    {
      id: `compressor:${m.id}`,
      step: "shape",
      owner: m.id,
      sentence: `Compress ${m.file} ${values.ratio}:1 behind its EQ, ${loudWords(lowered)}, by what ${strokes} strokes ask for.${lifts(values.makeup)}`,
      figure: `−${reductionDb.toFixed(1)} dB per stroke`,
      operation: putProcessor(
        m,
        "compressor",
        { threshold: Math.max(-60, Math.min(0, Math.round((threshold + trim) * 10) / 10)), ...values },
        true,
      ),
    },
  ];
}

function rounded(m: Mic, { rounding, strokes }: ShapedDrum, trim: number): Proposal[] {
  if (!rounding) return [];
  return [
    {
      id: `saturation:${m.id}`,
      step: "shape",
      owner: m.id,
      sentence: `Round the peaks of ${m.file} behind its compressor, ${loudWords(rounding.lowered)}, measured over ${strokes} strokes.`,
      figure: `${signed(rounding.peakDb)} dB peak`,
      // Slope 1 at rest: what the trim lifts, less drive brings to the same place of the bend.
      operation: putProcessor(
        m,
        "saturation",
        {
          character: "rounded",
          drive: Math.max(-12, Math.min(36, rounding.drive - trim)),
          output: Math.max(-36, Math.min(12, rounding.output + trim)),
        },
        true,
      ),
    },
  ];
}

/** EQ, compression and rounding of every drum in its flavour, by what its strokes show. */
export function proposeShape(song: Song, facts: Facts): Proposal[] {
  return song.mics
    .filter((m) => usable(m))
    .flatMap((m): Proposal[] => {
      const trim = processorOf(m, "trim").params["gain"] as number;
      const flavour = flavourOf(song.shaping, m.piece);
      const shaped = facts.shapes[m.id]?.[flavour];
      const lowEnd = facts.lowEnds[m.id];
      return [
        ...toneOf(m, facts, shaped, flavour),
        ...(lowEnd && !m.reference && isUnruly(lowEnd) ? [holdLowEnd(m, lowEnd, trim)] : []),
        ...(shaped ? [...squeezed(m, shaped, trim), ...rounded(m, shaped, trim)] : []),
      ];
    });
}
