import type { Facts } from "../facts/facts";
import { layerEdits } from "./layer";
import { alignTargets } from "./targets";
import type { Proposal } from "../song/proposal";
import { both, signed } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { median } from "../signal/level";
import type { Song } from "../song/song";

/** Polarity, delay and phase that bring mics together, and layers stroke by stroke. */
export function proposeAlign(song: Song, facts: Facts): Proposal[] {
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
