import { isChoice } from "../core/params";
import { processorType } from "../core/processors";
import { applyOperation } from "../core/song/operations";
import type { Song } from "../core/song/song";

/**
 * Sets `OWNER.PROCESSOR.PARAMETER` or `OWNER.level`; OWNER is a mic's file name (with or without ending), its id, or
 * the id of a bus; PARAMETER `on` switches.
 * Errors  Error that names the path, the value and what is possible.
 */
export function setPath(song: Song, path: string, text: string): Song {
  const parts = path.split(".");
  const name = parts.pop()!;
  if (name === "level") {
    const owner = findOwner(song, parts.join("."), path);
    const level = Number(text);
    if (!Number.isFinite(level) || level < -100 || level > 24)
      throw new Error(`${path} is ${text}; it must lie between -100 and 24 dB`);
    return "piece" in owner
      ? applyOperation(song, { op: "setMic", mic: owner.id, values: { level } }).song
      : applyOperation(song, { op: "setBus", bus: owner.id, values: { level } }).song;
  }
  const type = parts.pop() ?? "";
  const owner = findOwner(song, parts.join("."), path);
  const state = owner.chain.find((p) => p.type === type);
  if (!state)
    throw new Error(
      `${path}: ${owner.id} has no processor "${type}"; it has ${owner.chain.map((p) => p.type).join(", ")}`,
    );
  if (name === "on")
    return applyOperation(song, {
      op: "setProcessor",
      owner: owner.id,
      processor: state.id,
      on: text === "true" || text === "1",
    }).song;
  const spec = processorType(type).params[name];
  const value = spec && !isChoice(spec) ? Number(text) : text;
  return applyOperation(song, {
    op: "setProcessor",
    owner: owner.id,
    processor: state.id,
    params: { [name]: value },
  }).song;
}

function findOwner(song: Song, name: string, path: string): Song["mics"][number] | Song["buses"][number] {
  const stem = (file: string) => file.replace(/\.[^.]+$/, "");
  const found =
    song.mics.find((m) => m.id === name || m.file === name || stem(m.file) === name) ??
    song.buses.find((b) => b.id === name);
  if (!found)
    throw new Error(
      `${path}: no mic or bus "${name}"; steps take tighten.strength, tighten.grid, tighten.window, tighten.largest, tempo.bpm`,
    );
  return found;
}
