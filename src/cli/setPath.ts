import { isChoice } from "../core/params";
import { processorType } from "../core/processors";
import { applyOperation } from "../core/song/operations";
import { isMic, nameOf, type Owner } from "../core/song/graph";
import type { ProcessorState, Song } from "../core/song/song";

/**
 * Sets `OWNER.PROCESSOR.PARAMETER`, `OWNER.level`, `.muted`, `.soloed`, `.output`, of a bus also `.pan` and `.width`, or
 * `OWNER.send.BUS`, in dB or `off`. OWNER is a mic's file name (with or without ending), its id, or the id or name of a bus;
 * PARAMETER `on` switches, `key` names a mic or bus, `response` a file, or `none`; PROCESSOR is a type, `eq2` the second of it.
 * Errors  Error that names the path, the value and what is possible.
 */
export function setPath(song: Song, path: string, text: string): Song {
  const parts = path.split(".");
  const name = parts.pop()!;
  if (parts.length > 0 && Object.hasOwn(ownerValues, name)) {
    const owner = findOwner(song, parts.join("."), path);
    const values = { [name]: ownerValues[name as keyof typeof ownerValues](song, text) };
    try {
      return applyOperation(
        song,
        isMic(owner) ? { op: "setMic", mic: owner.id, values } : { op: "setBus", bus: owner.id, values },
      ).song;
    } catch (error) {
      throw new Error(`${path}: ${(error as Error).message}`);
    }
  }
  if (parts[parts.length - 1] === "send") {
    const owner = findOwner(song, parts.slice(0, -1).join("."), path);
    const bus = findBus(song, name, path);
    const others = owner.sends.filter((s) => s.bus !== bus);
    const now = owner.sends.find((s) => s.bus === bus);
    const sends =
      text === "off"
        ? others
        : [...others, { from: "fader", followsPan: true, ...now, bus, level: Number(text) } as const];
    return applyOperation(song, { op: "setSends", owner: owner.id, sends }).song;
  }
  const type = parts.pop() ?? "";
  const owner = findOwner(song, parts.join("."), path);
  const state = processorAt(owner.chain, type);
  if (!state)
    throw new Error(
      `${path}: ${nameOf(owner)} has no processor "${type}"; it has ${numbered(owner.chain).join(", ") || "none"}`,
    );
  if (name === "on")
    return applyOperation(song, {
      op: "setProcessor",
      owner: owner.id,
      processor: state.id,
      on: text === "true" || text === "1",
    }).song;
  if (name === "key" || name === "response")
    return applyOperation(song, {
      op: "setProcessor",
      owner: owner.id,
      processor: state.id,
      [name]: text === "none" ? null : findOwner(song, text, path).id,
    }).song;
  const spec = processorType(state.type).params[name];
  const value = spec && !isChoice(spec) ? Number(text) : text;
  return applyOperation(song, {
    op: "setProcessor",
    owner: owner.id,
    processor: state.id,
    params: { [name]: value },
  }).song;
}

/** What can be set on a mic or bus itself; how its text is read. */
const ownerValues = {
  level: (_: Song, text: string) => Number(text),
  width: (_: Song, text: string) => Number(text),
  pan: (_: Song, text: string) => Number(text),
  muted: (_: Song, text: string) => text === "true" || text === "1",
  soloed: (_: Song, text: string) => text === "true" || text === "1",
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
