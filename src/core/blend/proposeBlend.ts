import type { Facts } from "../facts/facts";
import type { Proposal } from "../song/proposal";
import { both, usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { kitOf } from "../song/graph";
import type { Operation } from "../song/operations";
import { isShell, type Mic, type Send, type Song } from "../song/song";
import { proposeBalance } from "./proposeBalance";

/** Nothing of the finished kit comes nearer to full scale, dBTP (EBU R 128: maximum true peak of a programme). */
export const kitCeiling = -1;

/** Paths that every song has, by the ids of their buses. */
const usualPaths: readonly string[] = ["squash", "grit", "room"];

/** What a shell's mic sends to the paths that every song has: the kick stays out of saturation and space. */
const usualSends = (m: Mic): Send[] => [
  { bus: "squash", level: 0, from: "fader", followsPan: true },
  ...(m.piece === "kick"
    ? []
    : ([
        { bus: "grit", level: 0, from: "fader", followsPan: true },
        { bus: "room", level: m.reference ? -12 : -6, from: "chain", followsPan: true },
      ] as const)),
];

/** Mics of shells that can be sent into paths. */
const shellsOf = (song: Song): Mic[] => song.mics.filter((m) => usable(m) && isShell(m.piece));

/** The sends of shells into the paths that are there, and these opened. */
function proposePaths(song: Song): Proposal[] {
  const paths = song.buses.filter((b) => usualPaths.includes(b.id));
  if (paths.length === 0) return [];
  const sends = shellsOf(song).map((m): Operation => {
    const own = usualSends(m).filter((s) => paths.some((b) => b.id === s.bus));
    const others = m.sends.filter((s) => !own.some((o) => o.bus === s.bus));
    return { op: "setSends", owner: m.id, sends: [...others, ...own] };
  });
  const open = paths.map((b): Operation => ({ op: "setBus", bus: b.id, values: { muted: false } }));
  return [
    {
      id: "blend:parallel",
      step: "blend",
      owner: kitOf(song).id,
      sentence:
        "Send the shells to parallel compression, without the kick to parallel saturation and the room.",
      figure: `${sends.length} mics`,
      operation: both(...sends, ...open),
    },
  ];
}

/** Glue on the kit, and room for its peaks. */
function proposeKit(song: Song): Proposal[] {
  const kit = kitOf(song);
  return [
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
}

/** Mics that are never played, or silent, out of the kit. */
function proposeMutes(song: Song): Proposal[] {
  const mute = song.mics.filter((m) => m.unplayed || m.silent);
  if (mute.length === 0) return [];
  return [
    {
      id: "blend:mute",
      step: "blend",
      owner: kitOf(song).id,
      sentence: `Mute what is never played: ${mute.map((m) => m.file).join(", ")}.`,
      figure: `${mute.length} mic${mute.length > 1 ? "s" : ""}`,
      operation: both(...mute.map((m): Operation => ({ op: "setMic", mic: m.id, values: { muted: true } }))),
    },
  ];
}

/** The balance, parallel paths, glue on the kit, room for its peaks, and what is never played out of it. */
export function proposeBlend(song: Song, facts: Facts): Proposal[] {
  if (shellsOf(song).length === 0) return [];
  return [...proposeBalance(song, facts), ...proposePaths(song), ...proposeKit(song), ...proposeMutes(song)];
}
