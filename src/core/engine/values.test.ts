import { describe, expect, test } from "@jest/globals";
import { newBus } from "../song/create";
import { choice, number, type ParamTable } from "../params";
import { Fader } from "./fader";
import { Level } from "./level";
import { SectionMap, variedNames } from "./sectionValues";
import { SlotHandle } from "./slotHandle";
import { ValueGlide } from "./valueGlide";

const table: ParamTable = {
  gain: number("Gain", "dB", -24, 24, 0, "g"),
  frequency: number("Frequency", "Hz", 20, 20000, 1000, "f", "log"),
  mode: choice("Mode", ["a", "b"], "m"),
};

describe("values on their way", () => {
  test("go 63 % of the way in 8 ms: three blocks of 128 frames at 48 kHz", () => {
    const glide = new ValueGlide(table, {});
    glide.want("gain", 10);
    for (let n = 0; n < 3; n++) expect(glide.step()).toBe(true);
    expect(glide.values["gain"]).toBeCloseTo(10 * (1 - Math.exp(-1)), 0);
  });
  test("never overshoot, arrive to the bit, and rest then", () => {
    const glide = new ValueGlide(table, { gain: -20 });
    glide.want("gain", 24);
    let last = -20;
    let steps = 0;
    while (glide.step()) {
      const now = glide.values["gain"] as number;
      expect(now).toBeGreaterThanOrEqual(last);
      expect(now).toBeLessThanOrEqual(24);
      last = now;
      steps++;
    }
    expect([last, glide.step()]).toEqual([24, false]);
    expect(steps).toBeLessThan(60);
  });
  test("frequencies move by ratios: half of the way is the geometric mean", () => {
    const glide = new ValueGlide(table, { frequency: 100 });
    glide.want("frequency", 10000);
    const ratios: number[] = [];
    for (let n = 0; n < 4; n++) {
      const before = Math.log(10000 / (glide.values["frequency"] as number));
      glide.step();
      ratios.push(Math.log(10000 / (glide.values["frequency"] as number)) / before);
    }
    for (const r of ratios) expect(r).toBeCloseTo(ratios[0]!, 6);
  });
  test("choices take hold at once; a jump goes to the end; what is wanted already moves nothing", () => {
    const glide = new ValueGlide(table, {});
    expect(glide.jump()).toBe(false);
    glide.want("mode", "b");
    expect(glide.values["mode"]).toBe("b");
    glide.want("gain", 5);
    expect(glide.jump()).toBe(true);
    expect(glide.values["gain"]).toBe(5);
    glide.want("gain", 5);
    expect(glide.step()).toBe(false);
  });
  test("another goal on the way is gone to from where it is", () => {
    const glide = new ValueGlide(table, {});
    glide.want("gain", 20);
    glide.step();
    const turned = glide.values["gain"] as number;
    glide.want("gain", 0);
    glide.step();
    expect(glide.values["gain"] as number).toBeLessThan(turned);
    expect(glide.values["gain"] as number).toBeGreaterThan(0);
  });
});

describe("sections on the time line", () => {
  const map = new SectionMap(
    [
      { id: "a", name: "A", from: 0, to: 1 },
      { id: "b", name: "B", from: 0.5, to: 2 },
    ],
    100,
  );
  test.each([
    [-1, null],
    [0, "a"],
    [49, "a"],
    [50, "b"],
    [199, "b"],
    [200, null],
  ] as const)("frame %d lies in %p", (frame, id) => {
    expect(map.at(frame)).toBe(id);
  });
  test("names that some section gives another value", () => {
    expect(variedNames({ a: { gain: 1 }, b: { gain: 2, mode: "b" } })).toEqual(["gain", "mode"]);
    expect(variedNames(undefined)).toEqual([]);
  });
});

describe("a processor as it runs", () => {
  const sections = new SectionMap([{ id: "a", name: "A", from: 1, to: 2 }], 100);
  const state = {
    id: "p",
    type: "eq",
    on: true,
    params: { gain: 0, frequency: 500, mode: "a" },
    bySection: { a: { gain: 9 } },
  } as const;
  test("has the values of the section it is in, and its own behind it", () => {
    const handle = new SlotHandle({ ...state, bySection: {} }, table);
    handle.take(state, sections);
    const at = (frame: number) => {
      handle.moveTo(frame);
      handle.glide.jump();
      return handle.glide.values["gain"];
    };
    expect([at(0), at(100), at(199), at(200)]).toEqual([0, 9, 9, 0]);
  });
  test("off or failed it goes to the dry side, and comes back when it is switched on", () => {
    const handle = new SlotHandle(state, table);
    expect([handle.share, handle.goal]).toEqual([1, 1]);
    handle.take({ ...state, on: false }, sections);
    expect(handle.goal).toBe(0);
    handle.take(state, sections);
    handle.failed = true;
    expect(handle.goal).toBe(0);
  });
});

describe("faders", () => {
  const ones = [new Float32Array(128).fill(1)];
  const stereo = () => [new Float32Array(128), new Float32Array(128)];
  test("glide in a straight line within one block, then stand", () => {
    const fader = new Fader(0);
    fader.set(1);
    const [l, r] = stereo();
    fader.add(ones, [l!, r!], 128);
    expect([l![0], l![63], l![127]]).toEqual([1 / 128, 0.5, 1].map(Math.fround));
    expect([...r!]).toEqual([...l!]);
    const next = stereo();
    fader.add(ones, next, 128);
    expect(next[0]!.every((v) => v === 1)).toBe(true);
  });
  test("closed they add nothing, and a jump is heard at once", () => {
    const fader = new Fader(0);
    expect(fader.open).toBe(false);
    const y = stereo();
    fader.add(ones, y, 128);
    expect(y[0]!.every((v) => v === 0)).toBe(true);
    fader.set(0.5);
    fader.jump();
    fader.add(ones, y, 128);
    expect(y[1]!.every((v) => v === 0.5)).toBe(true);
  });
  test("a level has its section's value there, is shut when it is shut, and is matched beside", () => {
    const level = new Level();
    const owner = { ...newBus("b", "B", "group"), level: -6 };
    level.set({ ...owner, levelBySection: { a: 0 } }, true, 48000);
    expect(level.gain).toBeCloseTo(10 ** (-6 / 20), 9);
    level.moveTo("a");
    expect(level.gain).toBe(1);
    level.setMatch(0.5);
    expect(level.gain).toBe(0.5);
    level.moveTo(null);
    level.set(owner, false, 48000);
    level.fader.jump();
    expect(level.fader.open).toBe(false);
  });
});
