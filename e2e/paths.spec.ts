import { expect, test, type Page } from "@playwright/test";
import type { Song } from "../src/core/song/song";
import { expectSaved, readSong, variedSong } from "./songApi";

let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Paths", 421, 6);
});

const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;

test("a parallel path comes whole and fitted, from nothing, is ridden by keys, says what it brings, and goes in one step", async ({
  page,
}) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  const before = await song(page);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Add a path" }).click();
  await page.getByRole("button", { name: /^Crushed shells/ }).click();
  await expect(page.getByRole("button", { name: "Add a path" })).toBeEnabled({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: "Undo: Path: Crushed shells" })).toBeVisible();
  await expectSaved(page);
  const made = (await song(page)).buses.find((b) => b.name === "Crushed shells")!;
  expect(made.level).toBe(-60);
  expect(made.chain[0]!.params["threshold"]).not.toBe(-30);
  expect(made.chain[0]!.params["makeup"]).toBeGreaterThan(3);
  const fed = (await song(page)).mics.filter((m) => m.sends.some((s) => s.bus === made.id));
  expect(fed.length).toBeGreaterThan(3);
  expect(fed.some((m) => m.unplayed || m.piece === "hat" || m.piece === "overhead")).toBe(false);

  await page.getByRole("button", { name: "What it does" }).click();
  const words = page.getByTestId("effect");
  await expect(words).toContainText(/median \d+\.\d dB of reduction/, { timeout: 60_000 });
  const reduction = Number(/median (\d+\.\d)/.exec((await words.textContent())!)![1]);
  expect(Math.abs(reduction - 13)).toBeLessThan(1.5);

  for (let i = 0; i < 3; i++) await page.keyboard.press("Alt+ArrowUp");
  await expectSaved(page);
  expect((await song(page)).buses.find((b) => b.id === made.id)!.level).toBe(-28);
  await page.getByRole("button", { name: "What it brings" }).click();
  const brings = page.getByTestId("path-effect");
  await expect(brings).toContainText(/At 0 dB: .*Snare \+\d+\.\d dB/, { timeout: 60_000 });
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press("Control+z");
    await expectSaved(page);
  }
  const after = await song(page);
  expect(after.buses).toEqual(before.buses);
  expect(after.mics).toEqual(before.mics);
});
