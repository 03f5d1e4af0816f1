import { isChoice } from "../core/params";
import { processorType } from "../core/processors";
import { applyOperation } from "../core/song/operations";
import { isMic, nameOf, type Owner } from "../core/song/graph";
import { setParams } from "../core/song/setParams";
import type { LevelMove, ProcessorState, Song } from "../core/song/song";

/**
 * Sets `OWNER.PROCESSOR.PARAMETER`, `OWNER.level`, `.muted`, `.soloed`, `.output`, of a bus also `.pan` and `.width`,
 * `OWNER.send.BUS`, in dB or `off`, or `OWNER.moves`, how its fader moves: `SECONDS:DB,SECONDS:DB`, or `none`. Parameters and levels with
 * `@SECTION`, its name or id, are set in that section alone, or with the value `as song` no longer. OWNER is a mic's file name (with or without ending), its id, or the id or name of a bus;
 * PARAMETER `on` switches, `key` names a mic or bus, `response` a file, or `none`; PROCESSOR is a type, `eq2` the second of it.
 * Errors  Error that names the path, the value and what is possible.
 */
export function setPath(song: Song, path: string, text: string): Song {
  const [whole, section] = splitSection(song, path);
  const parts = whole.split(".");
  const name = parts.pop()!;
  const at: Setting = { path, section, name, text };
  if (parts.length > 0 && (name === "moves" || Object.hasOwn(ownerValues, name)))
    return setOwnerValue(song, findOwner(song, parts.join("."), path), at);
  if (parts[parts.length - 1] === "send")
    return setSend(song, findOwner(song, parts.slice(0, -1).join("."), path), at);
  const type = parts.pop() ?? "";
  const owner = findOwner(song, parts.join("."), path);
  const state = processorAt(owner.chain, type);
  if (state) return setProcessor(song, owner, state, at);
  throw new Error(
    `${path}: ${nameOf(owner)} has no processor "${type}"; it has ${numbered(owner.chain).join(", ") || "none"}`,
  );
}

/** What is set: the last part of a path, its section's id, or null, and the text of the value. */
interface Setting {
  readonly path: string;
  readonly section: string | null;
  readonly name: string;
  readonly text: string;
}

const isYes = (text: string): boolean => text === "true" || text === "1";

/** A level, switch, way, or the course of a fader. */
function setOwnerValue(song: Song, owner: Owner, { path, section, name, text }: Setting): Song {
  if (name === "moves" && section === null)
    return setOwner(song, owner, { levelMoves: readMoves(path, text) }, path);
  if (section === null)
    return setOwner(song, owner, { [name]: ownerValues[name as keyof typeof ownerValues](song, text) }, path);
  if (name !== "level")
    throw new Error(`${path}: ${name} is the same in the whole song; level and parameters differ by section`);
  const { [section]: _, ...others } = owner.levelBySection ?? {};
  const levelBySection = text === asSong ? others : { ...others, [section]: Number(text) };
  return setOwner(song, owner, { levelBySection }, path);
}

function setSend(song: Song, owner: Owner, { path, name, text }: Setting): Song {
  const bus = findBus(song, name, path);
  const others = owner.sends.filter((s) => s.bus !== bus);
  const now = owner.sends.find((s) => s.bus === bus);
  const send = { from: "fader", followsPan: true, ...now, bus, level: Number(text) } as const;
  const sends = text === "off" ? others : [...others, send];
  return applyOperation(song, { op: "setSends", owner: owner.id, sends }).song;
}

/** A parameter, switch, key or impulse response of a processor. */
function setProcessor(song: Song, owner: Owner, state: ProcessorState, at: Setting): Song {
  const { path, section, name, text } = at;
  const set = (values: object) =>
    applyOperation(song, { op: "setProcessor", owner: owner.id, processor: state.id, ...values }).song;
  if (name === "on") return set({ on: isYes(text) });
  if (name === "key" || name === "response")
    return set({ [name]: text === "none" ? null : findOwner(song, text, path).id });
  if (section !== null && text === asSong) {
    const { [name]: _, ...others } = state.bySection?.[section] ?? {};
    const bySection = { ...state.bySection, [section]: others };
    if (Object.keys(others).length === 0) delete bySection[section];
    return set({ bySection });
  }
  const spec = processorType(state.type).params[name];
  const value = spec && !isChoice(spec) ? Number(text) : text;
  return applyOperation(song, setParams(owner, state, { [name]: value }, section)).song;
}

/** Value of what no longer differs in a section. */
const asSong = "as song";

/** A path without its section, and that section's id. Errors  Error that names the sections there are. */
function splitSection(song: Song, path: string): [path: string, section: string | null] {
  const at = path.lastIndexOf("@");
  const name = path.slice(at + 1);
  // A file's name may hold one too.
  if (at < 0 || name.includes(".")) return [path, null];
  const found = song.sections.find((s) => s.id === name || s.name === name);
  if (found) return [path.slice(0, at), found.id];
  throw new Error(
    `${path}: no section "${name}"; there are ${song.sections.map((s) => s.name).join(", ") || "none"}`,
  );
}

/** Sets values of a mic or bus. Errors  Error that names the path and what is possible. */
function setOwner(song: Song, owner: Owner, values: object, path: string): Song {
  try {
    return applyOperation(
      song,
      isMic(owner) ? { op: "setMic", mic: owner.id, values } : { op: "setBus", bus: owner.id, values },
    ).song;
  } catch (error) {
    throw new Error(`${path}: ${(error as Error).message}`);
  }
}

/** Points of a fader's course, ascending. Errors  Error that names the path and the point that is none. */
function readMoves(path: string, text: string): LevelMove[] {
  if (text === "none") return [];
  return text
    .split(",")
    .map((point) => {
      const [time, db, ...more] = point.split(":").map((v) => (v.trim() === "" ? NaN : Number(v)));
      if (more.length > 0 || !Number.isFinite(time) || !Number.isFinite(db))
        throw new Error(
          `${path}: ${JSON.stringify(point)} is no point; it takes SECONDS:DB,SECONDS:DB or none`,
        );
      return { time: time!, db: db! };
    })
    .sort((a, b) => a.time - b.time);
}

/** What can be set on a mic or bus itself; how its text is read. */
const ownerValues = {
  level: (_: Song, text: string) => Number(text),
  width: (_: Song, text: string) => Number(text),
  pan: (_: Song, text: string) => Number(text),
  muted: (_: Song, text: string) => isYes(text),
  soloed: (_: Song, text: string) => isYes(text),
  output: (song: Song, text: string) => findBus(song, text, "output"),
} as const;

/** A processor by its type; `eq2` is the second of its kind. */
const processorAt = (chain: readonly ProcessorState[], name: string): ProcessorState | undefined =>
  chain[numbered(chain).indexOf(name)];
const numbered = (chain: readonly ProcessorState[]): string[] =>
  chain.map((p, i) => {
    const nth = 1 + chain.slice(0, i).filter((x) => x.type === p.type).length;
    return nth === 1 ? p.type : `${p.type}${nth}`;
  });

function findBus(song: Song, name: string, path: string): string {
  const found = song.buses.find((b) => b.id === name || b.name === name);
  if (!found)
    throw new Error(`${path}: no bus "${name}"; there are ${song.buses.map((b) => b.id).join(", ")}`);
  return found.id;
}

function findOwner(song: Song, name: string, path: string): Owner {
  const stem = (file: string) => file.replace(/\.[^.]+$/, "");
  const found =
    song.mics.find((m) => m.id === name || m.file === name || stem(m.file) === name) ??
    song.buses.find((b) => b.id === name || b.name === name);
  if (!found)
    throw new Error(
      `${path}: no mic or bus "${name}"; steps take tighten.strength, tighten.grid, tighten.window, tighten.largest, tempo.bpm`,
    );
  return found;
}
