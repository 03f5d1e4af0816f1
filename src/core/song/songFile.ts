import { bleedBands } from "../bleed/bands";
import { checkParam } from "../params";
import { processorType } from "../processors";
import { newProcessor, newTighten } from "./create";
import { mostClockPpm } from "../signal/respeed";
import { pieces, places, type Edit, type Mic, type ProcessorState, type Song } from "./song";

/** Upgrades from one version of the format to the next, by the version they start from. */
const upgrades: Record<number, (song: Record<string, unknown>) => Record<string, unknown>> = {
  // Sections got ids, by which values differ; a record to compare with came in.
  1: (song) => ({
    ...song,
    formatVersion: 2,
    referenceRecord: null,
    sections: (song["sections"] as object[]).map((s, i) => ({ id: `section${i + 1}`, ...s })),
  }),
  // Files may start late, mics be locked; what the kit is aligned to and how it stands came in.
  2: (song) => ({
    ...song,
    formatVersion: 3,
    align: { anchor: "close", rooms: null },
    plan: { mirrored: false, places: {} },
    mics: (song["mics"] as Mic[]).map((m) => ({
      ...m,
      start: 0,
      clockPpm: 0,
      timeReference: null,
      locked: false,
      chain: m.chain.flatMap((p) => (p.type === "polarity" ? [p, newProcessor(m.id, "rotation")] : [p])),
    })),
  }),
  // Strokes got kinds and corrections, the tempo meters, tightening its finer settings; mics may be cut alone.
  3: (song) => {
    const tempo = song["tempo"] as object | null;
    return {
      ...song,
      formatVersion: 4,
      hits: (song["hits"] as object[]).map((h) => ({ kind: "stroke", ...h })),
      detection: { sensitivity: {}, corrections: [] },
      tempo: tempo && { compound: false, pickUp: 0, meters: [], follows: false, ...tempo },
      tighten: { ...newTighten(), ...(song["tighten"] as object) },
      edits: (song["edits"] as object[]).map((e) => ({ likeness: 1, jumpDb: null, ...e })),
      mics: (song["mics"] as object[]).map((m) => ({ ownEdits: [], ...m })),
    };
  },
  // Mics may cancel what the others hear, by how they hear the drums: to be measured anew. The dynamic EQ got more bands.
  4: (song) => ({
    ...song,
    formatVersion: 5,
    bleed: {},
    mics: (song["mics"] as Mic[]).map((m) => ({
      ...m,
      key: null,
      chain: [
        newProcessor(m.id, "cancel"),
        ...m.chain.map(withDefaults(m.id, "dynamicEq")).map(withDefaults(m.id, "gate")),
      ],
    })),
  }),
};

/** Completes the values of processors of a type that got more of them. */
const withDefaults =
  (owner: string, type: string) =>
  (p: ProcessorState): ProcessorState =>
    p.type === type ? { ...p, params: { ...newProcessor(owner, type).params, ...p.params } } : p;

/** A stored document in the newest format. */
export function upgradeSong(json: object): Song {
  let document = json as Record<string, unknown>;
  while (typeof document["formatVersion"] === "number" && upgrades[document["formatVersion"]])
    document = upgrades[document["formatVersion"]]!(document);
  return document as unknown as Song;
}

/**
 * Cuts must ascend, and no crossfade may reach over the cut before it: nothing could be read by them.
 * Errors  RangeError or TypeError that names `whose` cuts they are and what is wrong.
 */
export function checkEdits(edits: readonly Edit[], whose: string): void {
  let last = -Infinity;
  for (const e of Array.isArray(edits) ? edits : []) {
    if (typeof e !== "object" || e === null) throw new TypeError(`${whose}: one of its cuts is none`);
    const usable = [e.at, e.shift, e.fade].every(Number.isSafeInteger) && e.fade >= 1 && e.likeness >= 0 && e.likeness <= 1; // prettier-ignore
    if (!usable || e.at - e.fade < last)
      throw new RangeError(
        `${whose}: the cut at frame ${e.at} (shift ${e.shift}, fade ${e.fade}) does not fit`,
      );
    last = e.at;
  }
  if (!Array.isArray(edits)) throw new TypeError(`${whose} lacks its cuts`);
}

/** Every channel must tell every band of every drum it hears. */
function checkBleed(bleed: Song["bleed"]): void {
  const whole = (list: unknown) =>
    Array.isArray(list) && list.length === bleedBands && list.every((db) => Math.abs(db as number) <= 200);
  if (typeof bleed !== "object" || bleed === null)
    throw new TypeError("the song lacks how its mics hear the drums");
  for (const [mic, channels] of Object.entries(bleed))
    for (const { usualDb, drums } of channels)
      if (!whole(usualDb) || !Object.values(drums).every(whole))
        throw new RangeError(`how ${mic} hears the drums does not hold ${bleedBands} bands within 200 dB`);
}

/**
 * Reads a song document and checks it.
 * Errors  TypeError or RangeError that names what is wrong: another format, a newer version, a bad label or parameter.
 */
export function readSong(json: unknown): Song {
  if (typeof json !== "object" || json === null || (json as Song).format !== "jubo-song")
    throw new TypeError("this is not a song of Jubo");
  const given = json as Partial<Song>;
  if (!Array.isArray(given.sections)) throw new TypeError("the song lacks its sections");
  const song = upgradeSong(json);
  if (song.formatVersion !== 5)
    throw new RangeError(
      `the song has format version ${String(song.formatVersion)}; this program reads versions 1 to 5`,
    );
  if (!Number.isFinite(song.sampleRate) || song.sampleRate < 8000 || song.sampleRate > 384000)
    throw new RangeError(`the song's sample rate is ${song.sampleRate}`);
  if (
    !Array.isArray(song.mics) ||
    !Array.isArray(song.buses) ||
    !Array.isArray(song.hits) ||
    !Array.isArray(song.edits) ||
    !Array.isArray(song.refused)
  )
    throw new TypeError("the song lacks its mics, buses, hits, edits or refused proposals");
  if (!["close", "overheads"].includes(song.align?.anchor) || typeof song.plan?.places !== "object")
    throw new TypeError("the song lacks what it is aligned to or its kit plan");
  if (!Array.isArray(song.detection?.corrections) || !Array.isArray(song.tighten?.leaders))
    throw new TypeError("the song lacks how its strokes were found or how it is tightened");
  for (const m of song.mics) {
    checkEdits(m.ownEdits, m.file);
    if (!Number.isSafeInteger(m.start) || m.start < 0 || !(Math.abs(m.clockPpm) <= mostClockPpm))
      throw new RangeError(
        `${m.file}: begins at frame ${m.start}, clock ${m.clockPpm} ppm; usable: from 0, within ${mostClockPpm} ppm`,
      );
    if (typeof m.id !== "string" || typeof m.file !== "string")
      throw new TypeError("a mic lacks its id or file name");
    if (m.key !== null && (m.key === m.id || !song.mics.some((k) => k.id === m.key)))
      throw new RangeError(`${m.file}: its key ${String(m.key)} is no other mic of the song`);
    if (!pieces.includes(m.piece) || !places.includes(m.place))
      throw new RangeError(`${m.file}: unknown label ${m.piece}/${m.place}`);
  }
  checkEdits(song.edits, "the song");
  checkBleed(song.bleed);
  for (const [mic, label] of Object.entries(song.heardAs ?? {}))
    if (!pieces.includes(label?.piece) || !places.includes(label?.place))
      throw new RangeError(`${mic} was heard under an unknown label ${label?.piece}/${label?.place}`);
  for (const owner of [...song.mics, ...song.buses])
    for (const state of owner.chain) {
      const table = processorType(state.type).params;
      for (const values of [state.params, ...Object.values(state.bySection ?? {})])
        for (const [name, value] of Object.entries(values)) checkParam(table, name, value);
    }
  if (song.buses.filter((b) => b.output === null).length !== 1)
    throw new RangeError("a song has exactly one kit bus");
  return song;
}
