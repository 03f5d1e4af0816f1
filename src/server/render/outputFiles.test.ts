import { afterAll, describe, expect, test } from "@jest/globals";
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { usualDelivery, type Delivery } from "../../core/deliver/delivery";
import { readAudio, readAudioHeader } from "../../core/file/audioFile";
import { measureAudio } from "../../core/measure/measureAudio";
import { newBus, newSong } from "../../core/song/create";
import { memoryReader } from "../../core/engine/renderSong";
import { testMic, testSong } from "../../core/testing/songs";
import { WavFile } from "../audio/wavFile";
import { outputFiles } from "./outputFiles";
import { renderFiles } from "./renderFiles";

const folder = mkdtempSync(join(tmpdir(), "jubo-output-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const all: Delivery = { ...usualDelivery, names: "{name}", stems: true, buses: true, beside: true };

const songOf = (files: readonly string[], buses: readonly string[] = []) => {
  const song = newSong(
    "names",
    48000,
    files.map((file, i) => ({ ...testMic(`m${i}`, "kick", "in", 100), file })),
  );
  const more = buses.map((name, i) => newBus(`b${i}`, name, "group", { chain: [] }));
  return { ...song, buses: [...more, ...song.buses.filter((b) => b.output === null)] };
};
const stems = (files: readonly string[], format: "wav24" | "flac" = "wav24") =>
  [...outputFiles(songOf(files), folder, { ...all, buses: false, format })]
    .filter(([name]) => name !== "kit")
    .map(([, o]) => basename(o.path));

describe("files of a render", () => {
  test("every mic has a file of its own, also where names differ by their endings or by capitals only", () => {
    expect(stems(["Kick.wav", "Kick.aif", "kick.flac"])).toEqual([
      "Kick.wav",
      "kick (2).wav",
      "Kick (3).wav",
    ]);
    expect(stems(["Kick.wav", "Kick.aif"], "flac")).toEqual(["Kick.flac", "Kick (2).flac"]);
  });
  test("signs that a file system refuses are replaced, and what is alike then is told apart", () => {
    expect(stems(["Tom: 1.wav", "Tom? 1.wav"])).toEqual(["Tom- 1.wav", "Tom- 1 (2).wav"]);
    expect(stems(["CON.wav", "...wav", "a.b.wav"])).toEqual(["unnamed.wav", "a.b.wav", "CON-.wav"]);
    expect(stems([`${"x".repeat(300)}.wav`])[0]!.length).toBeLessThan(128);
  });
  test("the ending is that of what is written, whatever came in", () => {
    expect(stems(["Snare.flac", "Hat.AIFF", "Ride.WAV"])).toEqual(["Hat.wav", "Ride.wav", "Snare.wav"]);
  });
  test("buses of one name have a file each", () => {
    const song = songOf(["Kick.wav"], ["Low", "Low", "low"]);
    const paths = [...outputFiles(song, folder, all)]
      .filter(([n]) => n.startsWith("bus:b"))
      .map(([, o]) => basename(o.path));
    expect(paths).toEqual(["Low.wav", "Low (2).wav", "low (3).wav"]);
  });
});

describe("a delivery", () => {
  const { song, audio } = testSong(48000);
  const reader = memoryReader(audio);
  const made = async (more: Partial<Delivery>) => {
    const into = mkdtempSync(join(folder, "delivery-"));
    const rendered = await renderFiles(
      song,
      reader,
      into,
      { ...all, stems: false, buses: false, ...more },
      { threads: 1 },
    );
    const kit = readAudio(new Uint8Array(readFileSync(rendered.paths[0]!)));
    return { ...rendered, kit, into };
  };
  test("at another rate has as many seconds, and the peak that is asked for", async () => {
    const { kit, delivered } = await made({ sampleRate: 44100, target: "peak1", format: "wav32f" });
    expect(kit.sampleRate).toBe(44100);
    expect(kit.channels[0]!.length).toBe(44100);
    expect(delivered.kit.truePeakDb).toBeCloseTo(-1, 1);
    expect(Math.abs(measureAudio(kit.channels, 44100).truePeakDb + 1)).toBeLessThan(0.5);
  });
  test("of a loudness beyond the peaks is limited where one wishes it, and says what is missing where not", async () => {
    // A short burst at nearly full scale every half second over a quiet tone: to reach -14 LUFS its peaks would go over -1 dBTP.
    const x = Float32Array.from(
      { length: 48000 },
      (_, i) => 0.01 * Math.sin(i / 20) + (i % 24000 < 40 ? 0.9 * Math.sin(i / 3) : 0),
    );
    const sparse = memoryReader([[x], [x], [x, x]]);
    const rendered = async (more: Partial<Delivery>) =>
      (
        await renderFiles(
          song,
          sparse,
          mkdtempSync(join(folder, "loud-")),
          { ...all, stems: false, buses: false, target: "lufs14", ...more },
          { threads: 1 },
        )
      ).delivered;
    const limited = await rendered({ limit: true });
    expect(limited.gain.limits).toBe(true);
    expect(limited.gain.gainDb).toBeGreaterThan(1);
    expect(limited.kit.truePeakDb).toBeLessThan(-0.9);
    const free = await rendered({});
    expect(free.gain.limits).toBe(false);
    expect(free.gain.shortDb).toBeGreaterThan(1);
    expect(free.kit.truePeakDb).toBeCloseTo(-1, 2);
    expect(free.kit.integrated).toBeCloseTo(-14 - free.gain.shortDb, 1);
  });
  test("of a section begins and ends with it, by the same samples as the whole", async () => {
    const sections = [{ id: "s", name: "Part", from: 0.25, to: 0.75 }];
    const into = join(folder, "section");
    const delivery = { ...all, stems: false, buses: false, format: "wav32f" as const };
    const whole = await renderFiles({ ...song, sections }, reader, join(into, "whole"), delivery, {
      threads: 1,
    });
    const part = await renderFiles(
      { ...song, sections },
      reader,
      join(into, "part"),
      { ...delivery, section: "s" },
      { threads: 1 },
    );
    const [a, b] = [whole, part].map(
      (r) => readAudio(new Uint8Array(readFileSync(r.paths[0]!))).channels[0]!,
    );
    expect(b!.length).toBe(24000);
    expect(b).toEqual(a!.subarray(12000, 36000));
  });
  test("buses sum to the kit below -120 dB; a tail is as long as it is asked for", async () => {
    const routedSong = {
      ...song,
      mics: song.mics.map((m) => ({ ...m, output: "all" })),
      buses: [
        newBus("all", "All", "group", { level: -3 }),
        ...song.buses.map((b) => (b.output === null ? b : { ...b, muted: true })),
      ],
    };
    const into = join(folder, "sum");
    const { delivered, paths } = await renderFiles(
      routedSong,
      reader,
      into,
      { ...all, format: "wav32f", tail: 0.5 },
      { threads: 1 },
    );
    expect(delivered.sumDb).toBeLessThan(-120);
    for (const path of paths)
      expect(readAudio(new Uint8Array(readFileSync(path))).channels[0]!.length).toBe(72000);
    expect(existsSync(join(into, ".raw"))).toBe(false);
  });
  test("carries the time of day of its first frame, as its mics do", async () => {
    const timed = { ...song, mics: song.mics.map((m) => ({ ...m, timeReference: 3600 })) };
    const { paths } = await renderFiles(
      timed,
      reader,
      join(folder, "timed"),
      { ...all, buses: false },
      { threads: 1 },
    );
    for (const path of paths)
      expect(readAudioHeader(new Uint8Array(readFileSync(path)), 1e9).timeReference).toBe(3600 * 48000);
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
    mkdirSync(into);
    writeFileSync(join(into, "kit.wav"), "of before");
    await expect(renderFiles(song, broken, into, all, { threads: 1 })).rejects.toThrow("the disk is gone");
    const left = ["", "stems", "buses"]
      .flatMap((f) => readdirSync(join(into, f)))
      .filter((f) => /\./.test(f));
    expect(left).toEqual(["kit.wav"]);
    expect(readFileSync(join(into, "kit.wav"), "utf8")).toBe("of before");
  });
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
