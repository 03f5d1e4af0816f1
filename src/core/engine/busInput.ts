import { stillFader } from "../song/levelMoves";
import { fingerprint } from "../fingerprint";
import { isFree } from "../song/chain";
import { allBefore, needs, type Owner } from "../song/graph";
import type { Bus, Mic, Song } from "../song/song";
import { blockwise } from "./blockwise";
import { Engine } from "./engine";

/** The song with only what some buses are fed by at work, as it was recorded: nothing cut, nothing soloed, those themselves plain. */
export function fedAlone(song: Song, ...wanted: readonly string[]): Song {
  const before = needs(song);
  const asked = new Set(wanted.flatMap((bus) => [...allBefore(bus, before)]));
  const plain = { chain: [], level: 0, ...stillFader, pan: 0, width: 100, muted: false };
  return {
    ...song,
    edits: [],
    mics: song.mics.map((m): Mic => {
      const alone = { ...m, ownEdits: [], soloed: false };
      if (asked.has(m.id)) return alone;
      const idle = m.chain
        .filter((p) => !isFree(p))
        .map((p) => (p.type === "cancel" ? { ...p, on: false } : p));
      return { ...alone, muted: true, sends: [], chain: idle };
    }),
    buses: song.buses.map((b): Bus => {
      const alone = { ...b, soloed: false };
      if (wanted.includes(b.id)) return { ...alone, ...plain, sends: [] };
      return asked.has(b.id) ? alone : { ...alone, chain: [], sends: [] };
    }),
  };
}

/**
 * What comes into the chain of a bus over a stretch of the recording, latency taken off. What lies before the stretch is not
 * known, so that its first moments are those of a song that begins there; nothing is cut or soloed.
 * Shape   stretch [mic][channel] as recorded, equally long, from song frame `from` on; two channels come back.
 * Errors  RangeError for a bus that is not there.
 */
export function busInput(
  song: Song,
  bus: string,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): Float32Array[] {
  if (!song.buses.some((b) => b.id === bus)) throw new RangeError(`the song has no bus "${bus}"`);
  const engine = Engine.of(fedAlone(song, bus));
  engine.reset(from);
  const { latency } = engine.mixer.busOutput(bus);
  return blockwise(stretch, latency, (block, at) => {
    engine.process(block, from + at);
    return [engine.mixer.busOutput(bus).buffers];
  })[0]!;
}

/** Stands for all that decides what comes into a bus: what feeds it, and the strokes that its detectors know. */
export function busInputKey(song: Song, bus: string): string {
  const asked = allBefore(bus, needs(song));
  const heard = <T extends Owner>(owners: readonly T[]): T[] =>
    owners.filter((o) => o.id !== bus && asked.has(o.id)).map((o) => ({ ...o, soloed: false }));
  const { hits, sections, plan, tempo } = song;
  return fingerprint([heard(song.mics), heard(song.buses), bus, hits, sections, plan, tempo]);
}
