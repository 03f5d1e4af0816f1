import type { Facts } from "../facts/facts";
import type { Proposal } from "../song/proposal";
import { both, usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { kitOf } from "../song/graph";
import type { Operation } from "../song/operations";
import { isShell, type Send, type Song } from "../song/song";
import { proposeBalance } from "./proposeBalance";

/** Nothing of the finished kit comes nearer to full scale, dBTP (EBU R 128: maximum true peak of a programme). */
export const kitCeiling = -1;

/** The balance, parallel paths, glue on the kit, room for its peaks, and what is never played out of it. */
export function proposeBlend(song: Song, facts: Facts): Proposal[] {
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
  const parallel: Proposal[] = [
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
      sentence:
        "Hold the kit together with gentle compression, slow, of 1 to 2 dB: “Finish of the kit” fits it to this one.",
      figure: "2:1",
      operation: putProcessor(kit, "compressor", {}, true),
    },
    {
      id: "blend:peaks",
      step: "blend",
      owner: kit.id,
      sentence: "Catch the few peaks that would come too near to full scale, at the end of the kit.",
      figure: `at most ${String(kitCeiling).replace("-", "−")} dBTP`,
      operation: putProcessor(kit, "limiter", { ceiling: kitCeiling }, true),
    },
  ];
  if (paths.length === 0) parallel.shift();
  const proposals = [...proposeBalance(song, facts), ...parallel];
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
