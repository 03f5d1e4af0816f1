import type { Facts } from "../facts/facts";
import type { LowEnd } from "../facts/lowEnd";
import type { RingDecay } from "../facts/ringDecay";
import { holding } from "./measureLowEnd";
import { usualCompressor } from "./usual";
import type { Proposal } from "../song/proposal";
import { usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { processorOf } from "../song/create";
import { median } from "../signal/level";
import type { ParamValue } from "../params";
import { isShell, type Mic, type Song } from "../song/song";

/** A ring that dies within this time is the drum's own sound, s (common practice, no source). */
const longRing = 0.35;

function tameRing(m: Mic, { frequency, found, wanted, tamed, strokes }: RingDecay): Proposal {
  return {
    id: `ringTamer:${m.id}`,
    step: "shape",
    owner: m.id,
    sentence: `Let the ring of ${m.file} at ${frequency.toFixed(0)} Hz die in ${tamed.toFixed(2)} s rather than ${found.toFixed(2)} s, measured over ${strokes} strokes.`,
    figure: `T60 ${found.toFixed(2)} → ${tamed.toFixed(2)} s`,
    operation: putProcessor(m, "ringTamer", { frequency, found: Math.max(0.05, Math.min(5, found)), wanted: Math.max(0.03, Math.min(5, wanted)) }, true),
  };
} // prettier-ignore

/** A low end is unruly when its strokes differ by this much there, dB, and by so much more than above it (common practice, no source). */
const unruly = { least: 6, more: 2 };
const isUnruly = ({ spread, spreadAbove, held }: LowEnd): boolean =>
  spread > unruly.least && spread > spreadAbove + unruly.more && held < 0.75 * spread;

function holdLowEnd(m: Mic, { below, spread, held, threshold, strokes }: LowEnd, trim: number): Proposal {
  const values = { bands: "2", cross1: Math.max(40, below), threshold1: Math.max(-60, Math.min(0, threshold + trim)) };
  return {
    id: `bandCompressor:${m.id}`,
    step: "shape",
    owner: m.id,
    sentence: `Hold the low end of ${m.file} below ${below} Hz: its ${strokes} strokes differ by ${spread.toFixed(1)} dB there, and by ${held.toFixed(1)} dB behind it.`,
    figure: `${spread.toFixed(1)} → ${held.toFixed(1)} dB`,
    operation: putProcessor(m, "bandCompressor", { ...values, ...holding }, true),
  };
} // prettier-ignore

/** EQ, compression and saturation of every drum by what its strokes show. */
export function proposeShape(song: Song, facts: Facts): Proposal[] {
  const proposals: Proposal[] = [];
  for (const m of song.mics.filter((x) => usable(x))) {
    const tone = facts.tone[m.id];
    const levels = facts.levels[m.id];
    const trim = processorOf(m, "trim").params["gain"] as number;
    const eq: Record<string, ParamValue> = {};
    if (tone && m.piece === "kick")
      Object.assign(eq, {
        bell1Frequency: tone.fundamental,
        bell1Gain: 3,
        bell1Q: 1.2,
        bell2Frequency: 400,
        bell2Gain: -5,
        bell2Q: 1,
        bell4Frequency: 5000,
        bell4Gain: 4,
        bell4Q: 0.9,
      });
    else if (tone && m.piece === "snare" && !m.reference)
      Object.assign(eq, {
        highPassSlope: "12",
        highPassFrequency: 90,
        bell1Frequency: tone.fundamental,
        bell1Gain: 2.5,
        bell1Q: 1,
        bell4Frequency: 4000,
        bell4Gain: 2.5,
        bell4Q: 0.8,
      });
    else if (tone && isShell(m.piece) && m.piece !== "snare")
      Object.assign(eq, {
        bell1Frequency: tone.fundamental,
        bell1Gain: 3,
        bell1Q: 1.2,
        bell2Frequency: 450,
        bell2Gain: -5,
        bell2Q: 0.8,
        bell4Frequency: 5000,
        bell4Gain: 3,
        bell4Q: 0.8,
      });
    else if (m.piece === "hat" || m.piece === "ride" || m.piece === "crash")
      Object.assign(eq, { highPassSlope: "12", highPassFrequency: 350 });
    else if (m.piece === "overhead")
      Object.assign(eq, {
        highPassSlope: "12",
        highPassFrequency: 110,
        highShelfFrequency: 9000,
        highShelfGain: 1.5,
      });
    // A ring that stands out by more than 9 dB over its surroundings is heard as a whistle.
    const whistles = tone !== undefined && tone.ringDb > 9 && m.piece !== "kick";
    const ring = whistles ? facts.rings[m.id] : undefined;
    const tames = ring !== undefined && ring.found > longRing && ring.tamed < 0.7 * ring.found;
    if (tames) proposals.push(tameRing(m, ring));
    if (whistles && !tames) Object.assign(eq, { bell3Frequency: tone.ring, bell3Gain: -7, bell3Q: 8 });
    if (Object.keys(eq).length > 0)
      proposals.push({
        id: `eq:${m.id}`,
        step: "shape",
        owner: m.id,
        sentence: tone
          ? `Shape ${m.file} around its fundamental at ${tone.fundamental.toFixed(0)} Hz${eq["bell3Gain"] ? ` and cut its ring at ${tone.ring.toFixed(0)} Hz` : ""}.`
          : `Take from ${m.file} what lies under its drum.`,
        figure: tone ? `${tone.fundamental.toFixed(0)} Hz` : `${eq["highPassFrequency"]} Hz`,
        operation: putProcessor(m, "eq", eq, true),
      });
    const lowEnd = facts.lowEnds[m.id];
    if (lowEnd && !m.reference && isUnruly(lowEnd)) proposals.push(holdLowEnd(m, lowEnd, trim));
    const squeeze = facts.squeeze[m.id];
    if (!levels || !squeeze || m.reference || !isShell(m.piece)) continue;
    const { wishedDb: _, ...values } = usualCompressor(m.piece);
    const threshold = Math.max(-60, Math.min(0, Math.round((squeeze.threshold + trim) * 2) / 2));
    proposals.push({
      id: `compressor:${m.id}`,
      step: "shape",
      owner: m.id,
      sentence: `Compress ${m.file} ${values.ratio}:1: half of its ${levels.hits.length} main strokes give ${squeeze.reductionDb.toFixed(1)} dB or more.`,
      figure: `−${squeeze.reductionDb.toFixed(1)} dB per stroke`,
      operation: putProcessor(
        m,
        "compressor",
        { threshold, ...values, makeup: Math.round(5 * squeeze.reductionDb) / 10 },
        true,
      ),
    });
    const level = median(levels.hits) + trim;
    if (m.piece === "snare")
      proposals.push({
        id: `saturation:${m.id}`,
        step: "shape",
        owner: m.id,
        sentence: `Round the peaks of ${m.file}.`,
        figure: "about −3 dB peak",
        // Slope 1 at rest: output takes back the drive; peaks lie around the bend.
        operation: putProcessor(
          m,
          "saturation",
          {
            character: "rounded",
            drive: Math.max(-12, Math.min(30, -level - 4)),
            output: Math.max(-36, Math.min(12, level + 4)),
          },
          true,
        ),
      });
  }
  return proposals;
}
