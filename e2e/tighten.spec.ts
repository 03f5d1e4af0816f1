import { expect, test, type Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { readHitsMidi } from "../src/core/file/hitsMidi";
import { capture, type Hook } from "./hook";
import { deliverSong, expectSaved, readSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(409, 6);
  id = await deliverSong(request, "Loose playing", simulate(kit, song, rate, 409).mics, rate);
});

const openTighten = async (page: Page, view: string) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("3");
  await page.locator(".bench-views").getByRole("button", { name: view }).click();
};
const undo = async (page: Page) => {
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expectSaved(page);
};

test("strokes are dropped, called otherwise, added and taken back; a sensitivity finds others at once", async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  await openTighten(page, "Strokes");
  await expect(page.getByRole("heading", { name: /\d+ strokes/ })).toBeVisible();
  await page.getByRole("cell", { name: "Snare" }).click();
  const counts = page.getByTestId("stroke-counts");
  const mains = async () => Number(/(\d+) main/.exec(await counts.innerText())![1]);
  const before = await mains();
  const stack = page.locator(".stroke-stack canvas");
  await stack.click({ position: { x: 200, y: 12 } });
  await page.keyboard.press("v");
  await expect.poll(mains).toBe(before - 1);
  await page.getByLabel("Ghost note", { exact: true }).click();
  await expect.poll(mains).toBe(before);
  await page.locator(".stroke-facts").getByRole("button", { name: "Drop", exact: true }).click();
  await expect.poll(mains).toBe(before - 1);
  await expectSaved(page);
  const { song } = await readSong(request, id);
  expect(song.detection.corrections.map((c) => c.type)).toEqual(["change", "change", "drop"]);
  for (let i = 0; i < 3; i++) await undo(page);
  await expect.poll(async () => (await readSong(request, id)).song.detection.corrections).toEqual([]);
  await expect.poll(mains).toBe(before);

  const strokes = async () =>
    Number(/(\d+) strokes/.exec(await page.getByRole("heading", { name: /strokes/ }).innerText())![1]);
  const all = await strokes();
  await page.getByLabel("Sensitivity, typed").fill("-20");
  await page.keyboard.press("Enter");
  await expect.poll(strokes).toBeLessThan(all);
  await expectSaved(page);
  await undo(page);
  await expect.poll(strokes).toBe(all);
});

test("strokes are saved as MIDI and come back from it", async ({ page, request }) => {
  await openTighten(page, "Strokes");
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save a MIDI file" }).click(),
  ]);
  const saved = readHitsMidi(new Uint8Array(readFileSync(await download.path())));
  const { song } = await readSong(request, id);
  expect(saved.length).toBe(song.hits.length);
  const off = saved.map((h, i) => Math.abs(h.time - song.hits[i]!.time));
  expect(Math.max(...off)).toBeLessThan(0.002);
  await page.getByLabel("MIDI file with strokes").setInputFiles(await download.path());
  await expect(page.getByRole("button", { name: /^Undo: Strokes from/ })).toBeVisible();
  await undo(page);
  await page
    .getByLabel("MIDI file with strokes")
    .setInputFiles({ name: "broken.mid", mimeType: "audio/midi", buffer: Buffer.from("no midi at all") });
  await expect(page.getByText(/broken.mid is no readable MIDI file/)).toBeVisible();
});

test("beats: measured, typed, moved; the meter and the pick-up change the bars", async ({
  page,
  request,
}) => {
  await openTighten(page, "Beat");
  const said = page.getByTestId("beats");
  await expect(said).toContainText("4/4");
  const first = (await readSong(request, id)).song.tempo!.firstBeat;
  await page.getByRole("button", { name: "One later" }).click();
  await expectSaved(page);
  const moved = (await readSong(request, id)).song.tempo!;
  expect(moved.firstBeat - first).toBeCloseTo(60 / moved.bpm, 3);
  await page.getByRole("button", { name: "One beat earlier" }).click();
  await page.getByLabel("Meter", { exact: true }).selectOption("6/8");
  await expect(said).toContainText("6/8");
  await page.getByLabel("Tempo, bpm").fill("99");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: /99.00 bpm/ })).toBeVisible();
  await page.getByRole("button", { name: "Follow the playing" }).click();
  await expect(said).toContainText("following the playing");
  await expectSaved(page);
  // Pressed as quickly as one likes, each takes back one step.
  for (let i = 0; i < 5; i++) await page.keyboard.press("Control+z");
  await expect.poll(async () => (await readSong(request, id)).song.tempo!.firstBeat).toBeCloseTo(first, 9);
  // The meter is the last that comes back; what follows reads the song as it then is.
  await expect.poll(async () => (await readSong(request, id)).song.tempo!.compound).toBe(false);
  await expectSaved(page);
  await expect(page.getByText("changed elsewhere")).toHaveCount(0);
});

test("cuts that were planned from another state of the song are refused, and nothing is changed", async ({
  request,
}) => {
  const { song } = await readSong(request, id);
  const options = { label: "Tighten", version: 0, values: { tighten: { ...song.tighten, strength: 1 } } };
  const started = await request.post(`/api/songs/${id}/tasks`, { data: { kind: "tighten", options } });
  const task = (await started.json()) as { id: string };
  const read = async () =>
    (await (await request.get(`/api/tasks/${task.id}`)).json()) as { state: string; message: string };
  await expect.poll(async () => (await read()).state).toBe("failed");
  expect((await read()).message).toContain("changed meanwhile");
  expect((await readSong(request, id)).song).toEqual(song);
  const lacking = await request.post(`/api/songs/${id}/tasks`, {
    data: { kind: "tighten", options: { label: "x" } },
  });
  expect(lacking.status()).toBe(400);
});

test("settings that follow one another quickly are all taken", async ({ page, request }) => {
  await openTighten(page, "Early and late");
  const before = (await readSong(request, id)).song;
  const mic = before.mics.find((m) => m.piece === "snare")!.id;
  await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
  await page.getByLabel("Strength, typed").fill("100");
  await page.keyboard.press("Enter");
  await page.getByLabel("Grid", { exact: true }).selectOption("1/8");
  await page.getByLabel("Keep each drum's lean").click();
  await page.keyboard.press("m"); // another change in between is neither lost nor refused
  await expect
    .poll(async () => (await readSong(request, id)).song.tighten)
    .toMatchObject({ strength: 1, grid: "1/8", keepLean: true });
  const muted = async () => (await readSong(request, id)).song.mics.find((m) => m.id === mic)!.muted;
  await expect.poll(muted).toBe(true);
  await expect(page.getByText("changed elsewhere")).toHaveCount(0);
  await expectSaved(page);
  for (let i = 0; i < 4; i++) await page.keyboard.press("Control+z");
  await expect.poll(async () => (await readSong(request, id)).song).toEqual(before);
});

test("moves are planned with the recording, reviewed, left one by one; taken back, every sample is the original", async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  await openTighten(page, "Early and late");
  const before = await capturedAt(page, 4 * rate);
  const figures = page.getByLabel("Figures");
  await page.getByLabel("Strength, typed").fill("100");
  await page.keyboard.press("Enter");
  await expect(figures.getByText("Worst joint")).toBeVisible();
  const { song } = await readSong(request, id);
  expect(song.edits.length).toBeGreaterThan(20);
  expect(song.edits.every((e) => e.jumpDb !== null)).toBe(true);
  await page.locator(".bench-views").getByRole("button", { name: "Review" }).click();
  const rows = page.locator(".scroll-list tbody tr");
  await rows.first().getByRole("button", { name: "Leave as played" }).click();
  await expect.poll(async () => (await readSong(request, id)).song.tighten.left.length).toBe(1);
  await page.locator(".bench-views").getByRole("button", { name: "Early and late" }).click();
  await page.getByRole("button", { name: "Take all moves back" }).click();
  await expect.poll(async () => (await readSong(request, id)).song.edits.length).toBe(0);
  const after = await capturedAt(page, 4 * rate);
  expect(after.some((v) => v !== 0)).toBe(true);
  expect(after).toEqual(before);
});

/** Samples of the left channel from half a second behind a frame on, as the worklet plays them. */
async function capturedAt(page: Page, frame: number): Promise<number[]> {
  const from = frame + rate / 2;
  const transport = (name: RegExp) => page.getByRole("button", { name }).first();
  await transport(/^Play/).click();
  await expect(page.getByTestId("time")).not.toHaveText("0:00.0");
  await page.evaluate((to) => (window as unknown as { jubo: Hook }).jubo.seek(to), frame);
  const { position, left } = await capture(page, rate);
  await transport(/^Stop/).click();
  await expect(transport(/^Play/)).toBeVisible();
  expect(position).toBeGreaterThanOrEqual(frame);
  expect(position).toBeLessThan(from);
  return left.slice(from - position, from - position + 8000);
}
