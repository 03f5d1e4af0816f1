import { expect, test, type Page } from "@playwright/test";
import type { Bus, LevelMove } from "../src/core/song/song";
import { copyOf, expectSaved, readSong } from "./songApi";

let id = "";
test.beforeAll(async ({ request }) => {
  id = await copyOf(request, "Ferry Room Stomp", "Moved faders");
});

async function moves(page: Page, name: string): Promise<readonly LevelMove[]> {
  await expectSaved(page);
  const { song } = await readSong(page.request, id);
  const owner = [...song.mics, ...song.buses].find((o) => ("file" in o ? o.file : o.name) === name) as Bus;
  return owner.levelMoves ?? [];
}
async function open(page: Page): Promise<void> {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  await page.getByRole("table", { name: "Mix" }).getByRole("button", { name: "Snare", exact: true }).click();
  await expect(page.getByTestId("fader-moves")).toHaveText("It stands still.");
}

test("points of a fader are drawn on the song line, moved by hand and keys, typed, and taken out", async ({
  page,
}) => {
  await open(page);
  await page.getByRole("button", { name: "Draw on the song line" }).click();
  const line = page.locator(".level-line");
  const box = (await line.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.25, box.y + box.height * 0.5);
  await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * 0.2);
  const drawn = await moves(page, "Snare");
  expect(drawn).toHaveLength(2);
  expect(drawn[0]!.db).toBeLessThan(drawn[1]!.db);

  const first = page.getByRole("slider", { name: "Point 1 of Snare" });
  await first.focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowRight");
  const keyed = await moves(page, "Snare");
  expect(
    [keyed[0]!.db - drawn[0]!.db, keyed[0]!.time - drawn[0]!.time].map((v) => Math.round(100 * v) / 100),
  ).toEqual([-0.5, 0.1]);

  const grip = (await first.boundingBox())!;
  await page.mouse.move(grip.x + 12, grip.y + 12);
  await page.mouse.down();
  await page.mouse.move(grip.x + 12, box.y + box.height * 0.9, { steps: 4 });
  await page.mouse.up();
  const dragged = await moves(page, "Snare");
  expect(dragged[0]!.db).toBeLessThan(-20);

  await page.getByText("Points as a list").click();
  const typed = page.getByRole("textbox", { name: "Level of point 2, dB" });
  await typed.fill("-3");
  await typed.press("Enter");
  expect((await moves(page, "Snare"))[1]!.db).toBe(-3);
  await first.focus();
  await page.keyboard.press("Delete");
  expect(await moves(page, "Snare")).toHaveLength(1);
  await page.keyboard.press("Control+z");
  expect(await moves(page, "Snare")).toHaveLength(2);
  await page.getByRole("button", { name: "Take the moves out" }).click();
  expect(await moves(page, "Snare")).toHaveLength(0);
});

test("a fader ridden while the song plays is written, goes as before behind that, and is one step", async ({
  page,
}) => {
  await open(page);
  await page.getByRole("button", { name: "Write while it plays" }).click();
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await page.waitForTimeout(1500);
  const fader = page.getByRole("slider", { name: "Level of Snare", exact: true });
  await fader.focus();
  for (let i = 0; i < 6; i++) {
    await page.keyboard.press("ArrowLeft");
    await page.waitForTimeout(150);
  }
  await page.waitForTimeout(600);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await expect(page.getByTestId("fader-moves")).toContainText("points");
  const { song } = await readSong(page.request, id);
  const level = song.buses.find((b) => b.name === "Snare")!.level;
  const ridden = await moves(page, "Snare");
  expect(ridden.length).toBeGreaterThan(3);
  expect(Math.min(...ridden.map((m) => m.db))).toBeLessThan(-0.5);
  // It began after the song did, was held until the end, and comes back to where it was.
  expect(ridden[0]!.time).toBeGreaterThan(0.8);
  expect(ridden.at(-1)!.db).toBe(0);
  expect(ridden.at(-2)!.db).toBeLessThan(-0.5);
  expect(ridden.at(-2)!.time - ridden[1]!.time).toBeGreaterThan(1);
  await page.keyboard.press("Control+z");
  expect(await moves(page, "Snare")).toHaveLength(0);
  const after = await readSong(page.request, id);
  expect(after.song.buses.find((b) => b.name === "Snare")!.level).toBe(level);
});
