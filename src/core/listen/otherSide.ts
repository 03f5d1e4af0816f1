import { stillFader } from "../song/levelMoves";
import { processorType } from "../processors";
import { songLatency } from "../engine/mixPlan";
import { levelParam } from "../song/limits";
import type { Bus, Mic, ProcessorState, Send, Song } from "../song/song";
import { sameSources } from "../song/structure";
import type { Comparison } from "./listening";

const without = (chain: readonly ProcessorState[], off: (p: ProcessorState) => boolean): ProcessorState[] =>
  chain.map((p) => (p.on && off(p) ? { ...p, on: false } : p));

/** Keeps an owner as it is when nothing in its chain changes, so that sameness can be seen by identity. */
function changed<T extends Mic | Bus>(owner: T, off: (p: ProcessorState) => boolean): T {
  return owner.chain.some((p) => p.on && off(p)) ? { ...owner, chain: without(owner.chain, off) } : owner;
}

/** Sends that give nothing; they stay, so that one engine serves both sides. */
const shut = (sends: readonly Send[]): Send[] => sends.map((s) => ({ ...s, level: levelParam.min }));

/** A mic as it came in: only its trim and place in the picture stay. */
const untreatedMic = (mic: Mic): Mic => ({
  ...mic,
  chain: without(mic.chain, (p) => !["level", "place"].includes(processorType(p.type).keeps ?? "")),
  level: 0,
  ...stillFader,
  ownEdits: [],
  sends: shut(mic.sends),
});
const untreatedBus = (bus: Bus): Bus => ({
  ...bus,
  chain: without(bus.chain, () => true),
  level: 0,
  ...stillFader,
  pan: 0,
  width: 100,
  sends: shut(bus.sends),
  muted: bus.kind === "parallel" || bus.kind === "room",
});

/**
 * The song on the other side of a comparison; null when that side is no song: nothing, a record, or a version with
 * other mics, or that takes longer than this one, whose engine cannot be held back for it while it is heard.
 * Mics and buses that are the same on both sides are the same objects.
 */
export function otherSide(song: Song, comparison: Comparison): Song | null {
  switch (comparison.kind) {
    case "processors": {
      const ids = new Set(comparison.ids);
      const off = (p: ProcessorState) => ids.has(p.id);
      return {
        ...song,
        mics: song.mics.map((m) => changed(m, off)),
        buses: song.buses.map((b) => changed(b, off)),
      };
    }
    case "parallel":
      return {
        ...song,
        buses: song.buses.map((b) =>
          (b.kind === "parallel" || b.kind === "room") && !b.muted ? { ...b, muted: true } : b,
        ),
      };
    case "timing":
      return { ...song, edits: [] };
    case "untreated":
      return { ...song, mics: song.mics.map(untreatedMic), buses: song.buses.map(untreatedBus), edits: [] };
    case "version":
      return sameSources(song, comparison.song) && songLatency(comparison.song) <= songLatency(song)
        ? comparison.song
        : null;
    case "nothing":
    case "reference":
      return null;
  }
}

/** Mics and buses whose chains differ between two sides, by id: their loudness is matched one by one. */
export const differing = (song: Song, other: Song, comparison: Comparison): string[] =>
  comparison.kind === "processors"
    ? [...song.mics, ...song.buses]
        .filter((o) => ![...other.mics, ...other.buses].includes(o))
        .map((o) => o.id)
    : [];
