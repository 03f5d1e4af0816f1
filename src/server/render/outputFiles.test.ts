import { afterAll, describe, expect, test } from "@jest/globals";
import { existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { newBus, newSong } from "../../core/song/create";
import { memoryReader } from "../../core/engine/renderSong";
import { testMic, testSong } from "../../core/testing/songs";
import { WavFile } from "../audio/wavFile";
import { outputFiles } from "./outputFiles";
import { renderFiles } from "./renderFiles";

const folder = mkdtempSync(join(tmpdir(), "jubo-output-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const all = { kit: true, stems: true, buses: true };

const songOf = (files: readonly string[], buses: readonly string[] = []) => {
  const song = newSong("names", 48000, files.map((file, i) => ({ ...testMic(`m${i}`, "kick", "in", 100), file }))); // prettier-ignore
  const more = buses.map((name, i) => newBus(`b${i}`, name, "group", { chain: [] }));
  return { ...song, buses: [...more, ...song.buses.filter((b) => b.output === null)] };
};
const stems = (files: readonly string[], format: "wav24" | "flac" = "wav24") =>
  [...outputFiles(songOf(files), folder, { ...all, buses: false, kit: false }, format).values()].map((o) =>
    basename(o.path),
  );

describe("files of a render", () => {
  test("every mic has a file of its own, also where names differ by their endings or by capitals only", () => {
    expect(stems(["Kick.wav", "Kick.aif", "kick.flac"])).toEqual([
      "Kick.wav",
      "Kick (2).wav",
      "kick (3).wav",
    ]);
    expect(stems(["Kick.wav", "Kick.aif"], "flac")).toEqual(["Kick.flac", "Kick (2).flac"]);
  });
  test("signs that a file system refuses are replaced, and what is alike then is told apart", () => {
    expect(stems(["Tom: 1.wav", "Tom? 1.wav"])).toEqual(["Tom- 1.wav", "Tom- 1 (2).wav"]);
    expect(stems(["CON.wav", "...wav", "a.b.wav"])).toEqual(["CON-.wav", "unnamed.wav", "a.b.wav"]);
    expect(stems([`${"x".repeat(300)}.wav`])[0]!.length).toBeLessThan(128);
  });
  test("the ending is that of what is written, whatever came in", () => {
    expect(stems(["Snare.flac", "Hat.AIFF", "Ride.WAV"])).toEqual(["Snare.wav", "Hat.wav", "Ride.wav"]);
  });
  test("buses of one name have a file each", () => {
    const song = songOf(["Kick.wav"], ["Low", "Low", "low"]);
    const paths = [...outputFiles(song, folder, all, "wav24")].filter(([n]) => n.startsWith("bus:b")).map(([, o]) => basename(o.path)); // prettier-ignore
    expect(paths).toEqual(["Low.wav", "Low (2).wav", "low (3).wav"]);
  });
});

describe("a render that breaks off", () => {
  const { song, audio } = testSong(20000);
  test("says what went wrong, and leaves no half file", async () => {
    const reader = memoryReader(audio);
    const broken = ((mic: number, channel: number) => {
      const read = reader(mic, channel);
      return (...given: Parameters<typeof read>) => {
        if (given[0] + given[1] > 8000) throw new Error("the disk is gone");
        return read(...given);
      };
    }) as typeof reader;
    const into = join(folder, "broken");
    await expect(renderFiles(song, broken, into, all, "wav24", { threads: 1 })).rejects.toThrow("the disk is gone");
    const left = ["", "stems", "buses"].flatMap((f) => readdirSync(join(into, f))).filter((f) => /\./.test(f));
    expect(left).toEqual([]);
  }); // prettier-ignore
  test("a file that is whole is neither closed twice nor taken away by giving up", () => {
    const path = join(folder, "one.wav");
    const file = new WavFile(path, "wav16", 1, 48000, 10);
    file.write([new Float32Array(10)], 10);
    file.close();
    expect(() => file.abandon()).not.toThrow();
    expect(existsSync(path)).toBe(true);
    expect(() => file.write([new Float32Array(1 << 20)], 1 << 20)).toThrow("closed already");
  });
});
