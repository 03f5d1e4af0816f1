import { describe, expect, test } from "@jest/globals";
import { readFileSync, readdirSync } from "node:fs";
import { addedProcessor } from "../../../core/song/chainEdits";
import { processorOf } from "../../../core/song/create";
import { applyAll, type Operation } from "../../../core/song/operations";
import { steps, type Step } from "../../../core/song/song";
import { testSong } from "../../../core/testing/songs";
import { stepHelp } from "../stepHelp";
import { stops } from "./stops";

const { song } = testSong();
const kick = song.mics[0]!;
const set = (type: string, params: object): Operation => ({
  op: "setProcessor",
  owner: kick.id,
  processor: processorOf(kick, type).id,
  on: true,
  params: { ...params },
});
const at = (step: Step) => stops.filter((s) => s.step === step && s.done);

describe("the guide through the first song", () => {
  test("goes through all steps in their order", () => {
    expect([...new Set(stops.map((s) => s.step))]).toEqual([...steps]);
  });
  // What each asks for, done by hand; a song in which nothing was done has done none of it.
  test.each<[Step, Operation]>([
    ["align", set("delay", { delay: -12 })],
    ["align", set("polarity", { polarity: "inverted" })],
    ["clean", set("gate", { range: 20 })],
    ["shape", addedProcessor(kick, "compressor", undefined, { threshold: -20 }).operation],
    ["blend", { op: "setMic", mic: kick.id, values: { level: -3 } }],
  ])("notices what was done in %s", (step, operation) => {
    const [stop, ...more] = at(step);
    expect(more).toEqual([]);
    expect(stop!.done!(song)).toBe(false);
    expect(stop!.done!(applyAll(song, [operation]))).toBe(true);
    for (const other of stops.filter((s) => s.done && s.step !== step))
      expect(other.done!(applyAll(song, [operation]))).toBe(false);
  });
  test("speaks of what is on the page: every class that it marks is drawn somewhere", () => {
    const files = readdirSync("src/ui", { recursive: true, encoding: "utf8" }).filter((f) =>
      f.endsWith(".tsx"),
    );
    const drawn = files.map((f) => readFileSync(`src/ui/${f}`, "utf8")).join("\n");
    const named = stops.flatMap((s) => [...s.target.matchAll(/\.([a-z-]+)/g)].map(([, name]) => name!));
    expect(named.length).toBeGreaterThan(3);
    for (const name of named) expect(drawn).toMatch(new RegExp(`className="[^"]*\\b${name}\\b`));
  });
});

test("help tells every step and figure, and no figure twice in a step", () => {
  for (const step of steps) {
    const { purpose, ways, figures } = stepHelp[step];
    expect(purpose.length).toBeLessThan(120); // one line above the bench
    expect(ways.length).toBeGreaterThan(0);
    expect(new Set(figures.map((f) => f.name)).size).toBe(figures.length);
    for (const { means, measured } of figures)
      expect(Math.min(means.length, measured.length)).toBeGreaterThan(20);
  }
});
