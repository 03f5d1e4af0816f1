import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { processorOf } from "../src/core/song/create";
import { deliverSong, expectSaved, readSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(410, 8);
  id = await deliverSong(request, "Bleeding kit", simulate(kit, song, rate, 410).mics, rate);
});

const openClean = async (page: Page, drum?: RegExp) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("4");
  if (drum) await page.getByRole("button", { name: drum }).first().click();
};
const ways = (page: Page) => page.getByRole("region", { name: /^Ways to clean/ });
const figure = (text: string) => Number(text.replace("−", "-").replace("±", ""));

test("ways to clean a snare are judged, one is taken, and undone", async ({ page, request }) => {
  await openClean(page, /^Snare/);
  const cancel = ways(page).getByRole("row").filter({ hasText: "Cancel" });
  await expect(cancel).toBeVisible({ timeout: 60_000 });
  const cells = await cancel.getByRole("cell").allInnerTexts();
  expect(figure(cells[1]!)).toBeLessThan(-8);
  expect(Math.abs(figure(cells[2]!))).toBeLessThan(0.6);
  const [kept, ghosts] = cells[5]!.split("/").map(Number);
  expect(kept).toBe(ghosts);
  await ways(page).getByRole("button", { name: "Dyn. EQ" }).click();
  await expectSaved(page);
  const snare = async () => {
    const { song } = await readSong(request, id);
    const mic = song.mics.find((m) => m.piece === "snare" && !m.reference)!;
    return (["cancel", "gate", "dynamicEq"] as const).map((t) => processorOf(mic, t).on);
  };
  expect(await snare()).toEqual([false, false, true]);
  await ways(page).getByRole("button", { name: "Cancel" }).click();
  await expectSaved(page);
  expect(await snare()).toEqual([true, false, false]);
  for (let i = 0; i < 2; i++) {
    await page.getByRole("button", { name: /^Undo/ }).click();
  }
  await expect.poll(snare).toEqual([false, false, false]);
});

test("the whole kit is cleaned; where the hat sits is drawn on the plan and stays where the overheads put it", async ({
  page,
  request,
}) => {
  await openClean(page);
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expect(page.getByRole("button", { name: "All decided" })).toBeVisible();
  await expectSaved(page);
  // By the card that says so, or because it stood there already: pans less than 5 % apart are not asked about.
  const { song, facts } = await readSong(request, id);
  const mic = song.mics.find((m) => m.piece === "hat")!;
  expect(
    Math.abs((processorOf(mic, "pan").params["position"] as number) - facts!.pans[mic.id]!),
  ).toBeLessThan(5);
  await page
    .getByRole("region", { name: "Where the cymbals sit" })
    .getByRole("button", { name: "Measure" })
    .click();
  const hat = page.getByRole("row").filter({ hasText: /^Hat/ });
  await expect(hat).toBeVisible({ timeout: 30_000 });
  const cells = await hat.getByRole("cell").allInnerTexts();
  const place = (text: string) =>
    text === "middle" ? 0 : Number.parseInt(text, 10) * (text.endsWith("left") ? -1 : 1);
  expect(Math.abs(place(cells[4]!) - place(cells[2]!))).toBeLessThanOrEqual(10);
  await expect(page.getByLabel("Hat between left and right")).toBeVisible();
});

test("a band of the dynamic EQ moves in the picture while it plays; a key is another mic; close calls are heard", async ({
  page,
  request,
}) => {
  await openClean(page, /^Snare/);
  const eq = page.getByRole("region", { name: /^Dynamic EQ of/ });
  await eq.getByLabel(/^o(n|ff)$/).click();
  await eq.getByRole("button", { name: "4", exact: true }).click();
  await eq.getByLabel("Band 4 shape").selectOption("bell");
  await expectSaved(page);
  await page.getByRole("button", { name: "Play", exact: true }).click();
  const drawn = () =>
    page.locator("canvas.moving").evaluate((c: HTMLCanvasElement) => {
      if (c.width === 0) return 0;
      return c
        .getContext("2d")!
        .getImageData(0, 0, c.width, c.height)
        .data.reduce((n, v, i) => (i % 4 === 3 && v > 0 ? n + 1 : n), 0);
    });
  await expect.poll(drawn).toBeGreaterThan(100);
  await page.getByRole("button", { name: "Stop", exact: true }).click();

  const gate = page.getByRole("region", { name: /^Gate of/ });
  const { song } = await readSong(request, id);
  const kick = song.mics.find((m) => m.piece === "kick" && !m.reference)!;
  await gate.getByLabel("Key").selectOption(kick.id);
  await expectSaved(page);
  const snare = () =>
    readSong(request, id).then((o) => o.song.mics.find((m) => m.piece === "snare" && !m.reference)!);
  const keyNow = async () => (await snare()).chain.find((p) => p.type === "gate")!.key ?? null;
  expect(await keyNow()).toBe(kick.id);
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect.poll(keyNow).toBeNull();

  // At the level of one of its strokes, that stroke at least is a close call.
  const { facts } = await readSong(request, id);
  const levels = facts!.events["snare"]!.events.map((e) => e.levelDb);
  await gate.getByLabel("Threshold, typed").fill(levels[levels.length >> 1]!.toFixed(1));
  await page.keyboard.press("Enter");
  await page.getByRole("region", { name: "Close calls" }).getByRole("row").first().click();
  await expect(page.getByRole("button", { name: "Stop", exact: true })).toBeVisible();
});
