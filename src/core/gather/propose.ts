import { layerEdits } from "../align/layer";
import { alignTargets } from "../align/targets";
import { proposeClean } from "../clean/proposeClean";
import { usualCompressor } from "../shape/usual";
import { median } from "../signal/level";
import type { ParamValue } from "../params";
import { processorOf } from "../song/create";
import type { Operation } from "../song/operations";
import { kitOf } from "../song/graph";
import { putProcessor } from "../song/putProcessor";
import { isDrum, isShell, type Mic, type Send, type Piece, type Song, type Step } from "../song/song";
import type { Facts, Proposal } from "./proposal";

const both = (...operations: Operation[]): Operation => ({ op: "several", operations });
const signed = (x: number, digits = 1) => `${x >= 0 ? "+" : "−"}${Math.abs(x).toFixed(digits)}`;
const usable = (m: Mic) => !m.silent && !m.unplayed;

/** Peak that leaves room, dBFS: strokes of close mics; far mics stay lower (common practice: -10). */
const trimTarget: Partial<Record<Piece, number>> = {
  hat: -18,
  ride: -17,
  crash: -17,
  overhead: -12,
  room: -16,
};

function proposeTrims(song: Song, facts: Facts): Proposal[] {
  return song.mics
    .filter((m) => usable(m) && (isDrum(m.piece) || m.piece === "overhead" || m.piece === "room"))
    .map((m) => {
      const strokes = facts.levels[m.id]?.hits ?? [];
      // Over the strokes and not over one click; a second mic of a drum supports the first.
      const level = strokes.length > 0 ? median(strokes) : m.peakDbfs;
      const target = (trimTarget[m.piece] ?? -10) - (m.reference ? 4 : 0);
      const gain = Math.round(Math.max(-30, Math.min(30, target - level)) * 10) / 10;
      return {
        id: `trim:${m.id}`,
        step: "gather" as const,
        owner: m.id,
        sentence: `Bring the strokes of ${m.file} to −${-target} dBFS.`,
        figure: `${signed(gain)} dB`,
        operation: putProcessor(m, "trim", { gain }),
      };
    });
}

function proposeAlign(song: Song, facts: Facts): Proposal[] {
  const proposals: Proposal[] = [];
  for (const [id, target] of alignTargets(song, facts)) {
    const m = song.mics.find((x) => x.id === id)!;
    const { delay, polarity, toward, gainDb } = target;
    const ms = (1000 * delay) / song.sampleRate;
    const flip = polarity === -1;
    const move = delay !== 0;
    const does = flip && move ? "Turn over and move" : flip ? "Turn over" : "Move";
    proposals.push({
      id: `align:${id}`,
      step: "align",
      owner: id,
      sentence: `${does} ${m.file}${move ? ` by ${signed(delay, 2)} smp (${signed(ms, 2)} ms)` : ""} to meet ${toward}.`,
      figure: gainDb === null ? (move ? `${signed(ms, 2)} ms` : "polarity") : `${signed(gainDb)} dB low end`,
      operation: both(
        putProcessor(m, "polarity", { polarity: flip ? "inverted" : "as recorded" }),
        putProcessor(m, "delay", { delay }),
      ),
    });
  }
  for (const [id, timing] of Object.entries(facts.layers)) {
    const m = song.mics.find((x) => x.id === id);
    if (!m || m.locked) continue;
    const worst = Math.max(...timing.strays.map(Math.abs));
    proposals.push({
      id: `layer:${id}`,
      step: "align",
      owner: id,
      sentence: `Bring each of the ${timing.times.length} strokes of ${m.file} to the drum's: they stray by up to ${(1000 * worst).toFixed(1)} ms.`,
      figure: `${(1000 * median(timing.strays.map(Math.abs))).toFixed(1)} ms in the middle`,
      operation: {
        op: "setMic",
        mic: id,
        values: { ownEdits: layerEdits(timing, timing.delay, song.sampleRate) },
      },
    });
  }
  for (const [id, rotation] of Object.entries(facts.rotation)) {
    const m = song.mics.find((x) => x.id === id);
    if (!m || m.locked) continue;
    const { frequency, q, gainDb } = rotation;
    proposals.push({
      id: `rotation:${id}`,
      step: "align",
      owner: id,
      sentence: `No delay brings ${m.file} together with its main mic everywhere: turn its phase around ${frequency} Hz.`,
      figure: `${signed(gainDb)} dB per octave`,
      operation: putProcessor(m, "rotation", { frequency, q }, true),
    });
  }
  return proposals;
}

function proposeShape(song: Song, facts: Facts): Proposal[] {
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

function proposeBlend(song: Song): Proposal[] {
  const paths = song.buses.filter((b) => ["squash", "grit", "room"].includes(b.id));
  const sends: Operation[] = [];
  for (const m of song.mics.filter((x) => usable(x))) {
    if (!isShell(m.piece)) continue;
    const wanted: Send[] = [
      { bus: "squash", level: 0, from: "fader", followsPan: true },
      ...(m.piece === "kick"
        ? []
        : ([
            { bus: "grit", level: 0, from: "fader", followsPan: true },
            { bus: "room", level: m.reference ? -12 : -6, from: "chain", followsPan: true },
          ] as const)),
    ];
    const own = wanted.filter((s) => paths.some((b) => b.id === s.bus));
    const others = m.sends.filter((s) => !own.some((o) => o.bus === s.bus));
    sends.push({ op: "setSends", owner: m.id, sends: [...others, ...own] });
  }
  if (sends.length === 0) return [];
  const kit = kitOf(song);
  const open = paths.map((b): Operation => ({ op: "setBus", bus: b.id, values: { muted: false } }));
  const mute = song.mics.filter((m) => m.unplayed || m.silent);
  const proposals: Proposal[] = [
    {
      id: "blend:parallel",
      step: "blend",
      owner: kit.id,
      sentence:
        "Send the shells to parallel compression, without the kick to parallel saturation and the room.",
      figure: `${sends.length} mics`,
      operation: both(...sends, ...open),
    },
    {
      id: "blend:kit",
      step: "blend",
      owner: kit.id,
      sentence: "Hold the kit together with gentle compression, 2:1 and slow.",
      figure: "1–2 dB",
      operation: putProcessor(kit, "compressor", {}, true),
    },
  ];
  if (paths.length === 0) proposals.shift();
  if (mute.length > 0)
    proposals.push({
      id: "blend:mute",
      step: "blend",
      owner: kit.id,
      sentence: `Mute what is never played: ${mute.map((m) => m.file).join(", ")}.`,
      figure: `${mute.length} mic${mute.length > 1 ? "s" : ""}`,
      operation: both(...mute.map((m): Operation => ({ op: "setMic", mic: m.id, values: { muted: true } }))),
    });
  return proposals;
}

/** Proposals of one step for the song as it stands. */
export function proposeStep(song: Song, facts: Facts, step: Step): Proposal[] {
  if (step === "gather") return proposeTrims(song, facts);
  if (step === "align") return proposeAlign(song, facts);
  if (step === "clean") return proposeClean(song, facts);
  if (step === "shape") return proposeShape(song, facts);
  if (step === "blend") return proposeBlend(song);
  return [];
}
