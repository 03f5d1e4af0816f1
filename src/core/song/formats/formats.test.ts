import { describe, expect, test } from "@jest/globals";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { renderedKit } from "../../testing/renderedKit";
import { largestDifference } from "../../testing/signals";
import { testSong } from "../../testing/songs";
import { applyOperation } from "../operations";
import { readSong } from "../songFile";
import type { Song } from "../song";
import { newestFormat, upgradeChain, upgradeOperation, upgradeSong } from ".";

// Songs and histories as the programs of their time stored them, and what they sounded like before buses fed buses
// (format 5's program, frames 0 to 5999, left then right).
const frames = 9000;
const heard = 6000;
const stored = (format: number, ending: string) => join(__dirname, "stored", `format${format}${ending}`);
interface Stored {
  song: object;
  afterwards: object;
  history: { label: string; operation: object; inverse: object }[];
}
/**
 * That program rounded a processor's output once more when one beside it in the vector was off: what a mic gave hung on its
 * neighbours by one part in 2^24. Today it does not. Limiter, attack and sustain, band compressor and others that those songs
 * hold have kernels since, which compute in 32 bits what was computed in 64: one and a half roundings more at full scale.
 */
const rounding = 2 ** -22;
const { audio } = testSong(frames);

const kitOf = (song: Song): Promise<Float32Array> => renderedKit(song, audio, heard);

describe.each([1, 2, 3, 4, 5, 6, 7, 8])("a song stored with format %i", (format) => {
  const { song, afterwards, history } = JSON.parse(readFileSync(stored(format, ".json"), "utf8")) as Stored;

  test("comes up sounding as before, to a rounding", async () => {
    const before = new Float32Array(new Uint8Array(readFileSync(stored(format, ".kit.f32"))).buffer);
    expect(Math.max(...before)).toBeGreaterThan(0.5);
    expect(largestDifference(await kitOf(readSong(song)), before)).toBeLessThan(rounding);
  });
  test("is undone step by step to its beginning and done again to the same song", () => {
    const last = readSong(afterwards);
    let now = last;
    for (const { inverse } of [...history].reverse())
      now = applyOperation(now, upgradeOperation(inverse, format)).song;
    expect(now.mics.map((m) => m.chain.filter((p) => p.on).map((p) => p.type))).toEqual(
      now.mics.map(() => ["delay", "polarity", "trim", "pan"]),
    );
    expect(now.mics.flatMap((m) => m.sends)).toEqual([]);
    for (const { operation } of history) now = applyOperation(now, upgradeOperation(operation, format)).song;
    // Sections without a value are none, whether they are told or not.
    expect(readSong(JSON.parse(JSON.stringify(now))).mics).toEqual(last.mics);
    expect(now.buses).toEqual(last.buses);
  });
  test("undoing a removal brings mics back with everything that mics have today", () => {
    const { inverse } = history[history.length - 1]!;
    const back = applyOperation(readSong(afterwards), upgradeOperation(inverse, format)).song;
    expect(() => readSong(JSON.parse(JSON.stringify(back)))).not.toThrow();
    expect(back.mics.map((m) => m.id)).toEqual(["kick", "snare", "oh"]);
    expect(back.mics).toEqual(readSong(song).mics);
  });
  test("upgrading again, or from a format before, changes nothing more", () => {
    const now = upgradeSong(song);
    expect(upgradeSong({ ...now, formatVersion: 1 })).toEqual(now);
    const operations = history.map((h) => upgradeOperation(h.operation, format));
    expect(operations.map((o) => upgradeOperation(o, 1))).toEqual(operations);
  });
});

test("a document of a format to come is left as it is and refused", () => {
  const { song } = testSong(100);
  expect(() => readSong({ ...song, formatVersion: newestFormat + 1 })).toThrow(
    `versions 1 to ${newestFormat}`,
  );
});

test("a chain that was kept comes back as it was, and one of a former format with what it lacks", () => {
  const { chain } = testSong().song.mics[0]!;
  expect(upgradeChain(chain, newestFormat)).toEqual(chain);
  const { range: _, hold: __, ...former } = chain.find((p) => p.type === "compressor")!.params;
  const [upgraded] = upgradeChain([{ id: "x", type: "compressor", on: true, params: former }], 6);
  expect(upgraded!.params).toEqual({ ...former, range: 100, hold: 0 });
});
