import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { measureAudio } from "../measure/measureAudio";
import { newSong } from "../song/create";
import { noise, sine } from "../testing/signals";
import { testMic } from "../testing/songs";
import { checkKit, verdictsNow, verdictsOf, type Delivered } from "./checks";
import { checkDelivery, deliveredFrames, timeReferenceOf, usualDelivery, usualTail } from "./delivery";
import { fileName } from "./fileNames";
import { gainToTarget } from "./loudnessTarget";
import { outputsOf, sizeOfOutputs } from "./outputs";

const parts = { song: "Ferry", name: "Kick In", kind: "stem", number: "02", section: "", rate: "48 kHz" };
const rate = 48000;
const song = {
  ...newSong("Ferry", rate, [
    testMic("kick", "kick", "in", 96000),
    { ...testMic("tom", "tom1", "close", 96000), unplayed: true },
  ]),
  frames: 96000,
  sections: [{ id: "s1", name: "Verse", from: 0.5, to: 1.5 }],
};

describe("names of files", () => {
  test("tokens are filled in, and what empty ones leave behind goes", () => {
    expect(fileName("{song} - {number} {name}", parts)).toBe("Ferry - 02 Kick In");
    expect(fileName("{kind} {name}", { ...parts, kind: "" })).toBe("Kick In");
    expect(fileName("{section}_{name}_{section}", parts)).toBe("Kick In");
  });
  test("unknown tokens, and patterns that call all files the same, are refused in words", () => {
    expect(() => fileName("{drum} {name}", parts)).toThrow("{drum} is unknown; known: {song}, {name}");
    expect(() => fileName("{song}", parts)).toThrow("calls all files the same");
  });
  test("whatever the parts hold, no blank stands at an end", () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (name, kind) => {
        const made = fileName("{kind} - {name}", { ...parts, name, kind });
        expect(made).toBe(made.trim());
      }),
    );
  });
});

describe("what is asked for", () => {
  test("the whole song has a tail, a section has not", () => {
    expect(deliveredFrames(song, { ...usualDelivery, tail: 2 })).toEqual({ from: 0, to: 192000 });
    expect(deliveredFrames(song, { ...usualDelivery, tail: 2, section: "s1" })).toEqual({
      from: 24000,
      to: 72000,
    });
  });
  test("what is not there is refused in words", () => {
    const asked = (more: object) => () => checkDelivery(song, { ...usualDelivery, ...more });
    expect(asked({ section: "x" })).toThrow('no section "x"; known: Verse');
    expect(asked({ sampleRate: 32000 })).toThrow("32000 Hz is no rate");
    expect(asked({ tail: -1 })).toThrow("a tail of -1 s");
    expect(asked({ names: "kit" })).toThrow("all files the same");
    expect(asked({ section: "s1", sampleRate: 44100, tail: 3 })).not.toThrow();
  });
  test("spaces that are heard ask for a tail", () => {
    const room = song.buses.find((b) => b.kind === "room")!;
    expect(usualTail({ ...song, buses: [{ ...room, muted: true }] })).toBe(0);
    expect(usualTail({ ...song, buses: [{ ...room, muted: false }] })).toBeGreaterThan(0);
  });
  test("the time of the first frame is that of the mics less where they begin", () => {
    const [mic] = song.mics;
    expect(timeReferenceOf(song)).toBeNull();
    const told = { ...song, mics: [{ ...mic!, timeReference: 100, start: 480 }, song.mics[1]!] };
    expect(timeReferenceOf(told)).toBe(100 * rate - 480);
  });
});

describe("levels", () => {
  const kit = { integrated: -20, truePeakDb: -9 };
  test("a loudness is reached by gain as far as the peaks let it, beyond by the limiter alone", () => {
    expect(gainToTarget(kit, "lufs14", false)).toEqual({ gainDb: 6, shortDb: 0, limits: false });
    expect(gainToTarget({ ...kit, truePeakDb: -4 }, "lufs14", false)).toEqual({
      gainDb: 3,
      shortDb: 3,
      limits: false,
    });
    expect(gainToTarget({ ...kit, truePeakDb: -4 }, "lufs14", true)).toEqual({
      gainDb: 6,
      shortDb: 0,
      limits: true,
    });
    expect(gainToTarget(kit, "lufs23", false).gainDb).toBe(-3);
    expect(gainToTarget(kit, "peak1", false).gainDb).toBe(8);
  });
  test("silence and no target are left alone", () => {
    expect(gainToTarget({ integrated: -Infinity, truePeakDb: -Infinity }, "lufs14", true).gainDb).toBe(0);
    expect(gainToTarget(kit, "none", true).gainDb).toBe(0);
  });
});

describe("verdicts", () => {
  const x = noise(2 * rate, 3, 0.2);
  const found = (left: Float32Array, right: Float32Array): Delivered => ({
    kit: measureAudio([left, right], rate),
    checks: checkKit([left, right], rate),
    gain: { gainDb: 0, shortDb: 0, limits: false },
    sumDb: null,
    sumWhy: "",
  });
  test("equal sides lose nothing in mono, unrelated ones 3 dB, turned ones all", () => {
    expect(checkKit([x, x], rate).monoLossDb).toBeCloseTo(0, 6);
    expect(checkKit([x, noise(2 * rate, 9, 0.2)], rate).monoLossDb).toBeCloseTo(-3.01, 1);
    const turned = found(
      x,
      x.map((v) => -v),
    );
    const [worst] = verdictsOf(song, usualDelivery, turned);
    expect(worst!.grade).toBe("fails");
    expect(verdictsOf(song, usualDelivery, turned).find((v) => v.name === "Mono")!.grade).toBe("fails");
    expect(turned.checks.lowCorrelation).toBeLessThan(-0.99);
  });
  test("silence at both ends is measured to the frame", () => {
    const y = new Float32Array(3 * rate);
    y.set(sine(200, 0.5, 1, rate, 1), rate);
    const { silentStart, silentEnd } = checkKit([y, y], rate);
    expect(silentStart).toBeCloseTo(1, 3);
    expect(silentEnd).toBeCloseTo(1, 2);
  });
  test("what is never played and still open is named, worst comes first", () => {
    const list = verdictsOf(song, usualDelivery, found(x, x));
    const idle = list.find((v) => v.name === "Mics that are never played")!;
    expect(idle).toMatchObject({ grade: "look", step: "blend" });
    expect(idle.reason).toContain("tom.wav");
    const order = list.map((v) => ["fails", "look", "passes"].indexOf(v.grade));
    expect(order).toEqual([...order].sort((a, b) => a - b));
  });
  test("of a stretch only what a stretch can tell is judged", () => {
    const names = verdictsNow(song, found(x, x)).map((v) => v.name);
    expect(names).toContain("Mono");
    expect(names.some((n) => /^Target|Silence|sum/.test(n))).toBe(false);
  });
  test("a target that peaks stand in the way of says by how much", () => {
    const short = { ...found(x, x), gain: { gainDb: 1, shortDb: 4.2, limits: false } };
    const [worst] = verdictsOf(song, { ...usualDelivery, target: "lufs14" }, short);
    expect(worst).toMatchObject({ grade: "fails" });
    expect(worst!.reason).toContain("4.2 dB");
  });
});

describe("what a render makes, told before it is made", () => {
  test("the kit in stereo and every mic as wide as it came, in its folder", () => {
    const two = newSong("two", rate, [
      testMic("kick", "kick", "in", 100),
      testMic("far", "overhead", "pair", 100),
    ]);
    const outputs = outputsOf(two, { ...usualDelivery, buses: true });
    expect(outputs.filter((o) => o.folder !== "buses").map((o) => [o.id, o.folder, o.channels])).toEqual([
      ["kit", "", 2],
      ["stem:kick", "stems", two.mics[0]!.channels],
      ["stem:far", "stems", two.mics[1]!.channels],
    ]);
    expect(outputs.filter((o) => o.folder === "buses")).toHaveLength(two.buses.length - 1);
  });
  test("what is never played is left out unless it is asked for", () => {
    const stems = (beside: boolean) => outputsOf(song, { ...usualDelivery, beside }).length - 1;
    expect([stems(false), stems(true)]).toEqual([1, 2]);
  });
  test("how long and how large: two seconds of 24 bits in two channels are 576 kB", () => {
    const alone = { ...usualDelivery, stems: false };
    expect(sizeOfOutputs(song, alone)).toEqual({ seconds: 2, bytes: 576_000 });
    const more = { ...alone, sampleRate: 96000, tail: 1, format: "wav16" } as const;
    expect(sizeOfOutputs(song, more)).toEqual({ seconds: 3, bytes: 3 * 96000 * 2 * 2 });
    expect(sizeOfOutputs(song, { ...alone, section: "s1" }).seconds).toBe(1);
    expect(sizeOfOutputs(song, { ...alone, format: "flac" }).bytes).toBeNull();
  });
});
