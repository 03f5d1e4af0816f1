// An evening at the desk: all that a kit can have plays, while somebody jumps, loops, compares and edits.
import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { randomSource } from "../src/core/signal/random";
import type { Operation } from "../src/core/song/operations";
import type { Song } from "../src/core/song/song";
import { fullGraph } from "../tools/bench/material";
import { nextState, type Hook } from "./hook";
import { countDropOuts, heldNow, takeHeard, tellAct } from "./soakWatch";
import { deliverSong, readSong } from "./songApi";

const seconds = Number(process.env["JUBO_SOAK_SECONDS"] ?? 0);
const mics = 24;
const rate = 48000;
const next = randomSource(Number(process.env["JUBO_SEED"] ?? 9));
const below = (n: number): number => Math.floor(next() * n);

/** Every part of the song that is to be possible, put on the mics that were brought in. */
function operations(song: Song): Operation[] {
  // The made song counts its mics from 0, the application from 1.
  const text = JSON.stringify(fullGraph(mics)).replace(/"m(\d+)(?=[."])/g, (_, n) => `"m${Number(n) + 1}`);
  const wanted = JSON.parse(text) as Song;
  return [
    { op: "addBuses", buses: wanted.buses.filter((b) => b.id !== "kit") },
    ...wanted.mics.flatMap((m): Operation[] => [
      { op: "setMic", mic: m.id, values: { output: m.output } },
      { op: "setSends", owner: m.id, sends: m.sends },
      { op: "setChain", owner: m.id, chain: m.chain },
    ]),
    { op: "setChain", owner: "kit", chain: wanted.buses.find((b) => b.id === "kit")!.chain },
    { op: "removeBuses", buses: song.buses.map((b) => b.id).filter((id) => id !== "kit") },
  ];
}

let edits = 0;
/** Another level of one of the first mics, undone and done again: three edits that are heard. */
async function edit(page: Page): Promise<void> {
  const level = page.getByRole("table", { name: "Mix" }).getByRole("textbox", { name: /^Level of .*typed$/ });
  const field = level.nth(below(8));
  // Never what it was: an edit that changes nothing is none, and undo would take another.
  await field.fill(String(-3 - (edits++ % 60) / 10));
  await field.press("Enter");
  for (const keys of ["Control+z", "Control+Shift+z"]) {
    await page.waitForTimeout(1000);
    await page.keyboard.press(keys);
  }
}

const mute = async (page: Page): Promise<void> => {
  const button = page.getByRole("table", { name: "Mix" }).getByRole("button", { name: /^Mute / });
  const one = button.nth(below(8));
  await one.click();
  await page.waitForTimeout(1000);
  await one.click();
};

const jump = (page: Page, frames: number): Promise<void> =>
  page.evaluate((frame) => (window as unknown as { jubo: Hook }).jubo.seek(frame), below(frames));

/** To another step and back to Blend. */
async function steps(page: Page): Promise<void> {
  for (const key of ["145237"[below(6)]!, "6"]) {
    await page.keyboard.press(key);
    await page.waitForTimeout(1500);
  }
}

/** Something that somebody who listens does; a song that came to its end is played again. */
async function act(page: Page, frames: number): Promise<void> {
  if (!(await nextState(page)).playing) return page.keyboard.press(" ");
  const ways: [string, () => Promise<void>][] = [
    ["jump", () => jump(page, frames)],
    ["jump", () => jump(page, frames)],
    ["loop", () => page.keyboard.press("l")],
    ["compare", () => page.keyboard.press("c")],
    ["difference", () => page.keyboard.press("d")],
    ["edit", () => edit(page)],
    ["mute", () => mute(page)],
    ["steps", () => steps(page)],
  ];
  const [name, way] = ways[below(ways.length)]!;
  await tellAct(page, name);
  await way();
}

test("24 mics, 16 buses and the kit, all different and on with Cancel, play on without a drop-out while one works", async ({
  page,
  request,
}) => {
  test.skip(seconds === 0, "long: JUBO_SOAK_SECONDS=600 runs it");
  test.setTimeout(400_000 + 1500 * seconds);
  const { kit, song: played } = variedKit(431, 60);
  const twice = [1, 2].flatMap((seed) =>
    simulate(kit, played, rate, seed).mics.map((m) => ({
      ...m,
      spec: { ...m.spec, file: m.spec.file.replace(/(?=\.\w+$)/, ` ${seed}`) },
    })),
  );
  expect(twice.length).toBeGreaterThanOrEqual(mics);
  const id = await deliverSong(request, "Soak", twice.slice(0, mics), rate);
  const { song } = await readSong(request, id);
  const { version } = (await (await request.get(`/api/songs/${id}`)).json()) as { version: number };
  const changed = await request.post(`/api/songs/${id}/operations`, {
    data: { version, label: "soak", operation: { op: "several", operations: operations(song) } },
  });
  expect(await changed.text()).not.toContain("message");
  page.setDefaultTimeout(15_000);
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  await page.keyboard.press("l");
  await page.keyboard.press(" ");
  await page.waitForTimeout(10_000); // while the first blocks are compiled and fetched
  await countDropOuts(page);
  const until = Date.now() + 1000 * seconds;
  const frames = Math.min(...song.mics.map((m) => m.frames));
  const [within, held] = [[] as number[], [await heldNow(page)]];
  while (Date.now() < until) {
    for (const minute = Math.min(until, Date.now() + 60_000); Date.now() < minute;) {
      await act(page, frames - rate);
      await page.waitForTimeout(2000 + below(3000));
    }
    const heard = await takeHeard(page);
    within.push(heard.within);
    held.push(await heldNow(page));
    const memory = Object.entries(held.at(-1)!).map(([name, value]) => `${name} ${value.toFixed(0)}`);
    process.stdout.write(
      `    drop-outs ${[heard.within, ...heard.behind].join(", s behind ")}, ${heard.behindJumps} more behind ${heard.jumps} jumps; ${memory.join(", ")}\n`,
    );
    expect(heard.playing).toBeGreaterThan(0.8);
  }
  expect(within.reduce((a, n) => a + n, 0)).toBe(0);
  // Behind the first quarter all is there that this work needs.
  const settled = held[Math.floor(held.length / 4)]!;
  for (const name of ["heap", "nodes", "server", "worker"])
    expect(held.at(-1)![name]!).toBeLessThanOrEqual(1.25 * settled[name]! + 20);
});
