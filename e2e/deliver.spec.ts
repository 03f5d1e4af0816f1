import { expect, test } from "@playwright/test";
import { readFileSync } from "node:fs";
import { readAudio } from "../src/core/file/audioFile";
import { entriesOf, openZip } from "../src/server/audio/zip";
import { variedSong } from "./songApi";

let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Delivered", 433, 3);
});

test("a kit goes out at another rate and level, under names of one's own, heard and packed; what is wrong is said before", async ({
  page,
}) => {
  test.setTimeout(400_000);
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("7");
  const form = page.getByRole("region", { name: "Render" });
  const render = form.getByRole("button", { name: "Render the kit" });
  await form.getByLabel("Names").fill("{song}");
  await expect(form.getByText(/calls all files the same/)).toBeVisible();
  await expect(render).toBeDisabled();
  await form.getByLabel("Names").fill("{number} {kind} {name}");
  await expect(form.getByText(/as in “02 stem/)).toBeVisible();
  await form.getByLabel("Buses, after their faders").check();
  await form.getByLabel("Strokes and tempo as MIDI").check();
  await form.getByLabel("Sample rate").selectOption("44100");
  await form.getByLabel("Level").selectOption("peak1");
  const next = page.getByRole("table", { name: "Files of the next render" });
  const foretold = await next.locator("td:first-child").allTextContents();
  await render.click();
  const files = page.getByRole("table", { name: "Rendered files" });
  await expect(files).toBeVisible({ timeout: 180_000 });
  await expect(page.getByRole("row", { name: /passes.*Target −1 dBTP/ })).toBeVisible();
  const names = await files.getByRole("link").allTextContents();
  const told = names.map((n) => n.trim());
  // What was foretold is what was made, beside what tells of it.
  const places = (await files.locator("td:first-child").allTextContents()).map((n) =>
    n.replace(/\s*\/\s*/, "/").trim(),
  );
  expect(places.filter((n) => /\.wav$/.test(n))).toEqual(foretold);
  await expect(next).toBeHidden();
  expect(told[0]).toBe("01 kit.wav");
  expect(told.some((n) => /^\d\d stem /.test(n))).toBe(true);
  expect(told.some((n) => /^\d\d bus /.test(n))).toBe(true);
  expect(told).toEqual(expect.arrayContaining(["hits.mid", "report.html"]));

  await files.getByRole("button", { name: "Hear 01 kit.wav" }).click();
  const sound = page.locator("audio");
  await expect
    .poll(() => sound.evaluate((a: HTMLAudioElement) => a.currentTime), { timeout: 20_000 })
    .toBeGreaterThan(0.2);

  const [archive] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "All as a ZIP" }).click(),
  ]);
  const zip = await openZip(await archive.path());
  const packed = [...(await entriesOf(zip)).keys()];
  zip.close();
  expect([...packed].sort()).toEqual([...places].sort());
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    files.getByRole("link", { name: "01 kit.wav" }).click(),
  ]);
  const kit = readAudio(new Uint8Array(readFileSync(await download.path())));
  expect(kit.sampleRate).toBe(44100);
  const peak = kit.channels.reduce((m, x) => x.reduce((a, v) => Math.max(a, Math.abs(v)), m), 0);
  expect(20 * Math.log10(peak)).toBeGreaterThan(-2);

  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("7");
  await expect(form.getByLabel("Names")).toHaveValue("{number} {kind} {name}");
});

test("what cannot be delivered is refused in words, and nothing is rendered", async ({ request }) => {
  const ask = async (options: object) => {
    const made = await request.post(`/api/songs/${id}/tasks`, { data: { kind: "export", options } });
    if (!made.ok()) return (await made.json()) as { message?: string };
    const { id: task } = (await made.json()) as { id: string };
    await expect
      .poll(async () => ((await (await request.get(`/api/tasks/${task}`)).json()) as { state: string }).state)
      .toBe("failed");
    return (await (await request.get(`/api/tasks/${task}`)).json()) as { message?: string };
  };
  expect((await ask({ section: "nowhere" })).message).toContain('no section "nowhere"');
  expect(
    (
      await request.post(`/api/songs/${id}/tasks`, { data: { kind: "export", options: { sampleRate: 12 } } })
    ).status(),
  ).toBe(400);
  expect((await request.get(`/api/tasks/00000000-0000-4000-8000-000000000000/zip`)).status()).toBe(404);
});
