import type { Facts } from "../facts/facts";
import { usualCompressor } from "./usual";
import type { Proposal } from "../song/proposal";
import { usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { processorOf } from "../song/create";
import { median } from "../signal/level";
import type { ParamValue } from "../params";
import { isShell, type Song } from "../song/song";

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
    if (tone && tone.ringDb > 9 && m.piece !== "kick")
      Object.assign(eq, { bell3Frequency: tone.ring, bell3Gain: -7, bell3Q: 8 });
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
