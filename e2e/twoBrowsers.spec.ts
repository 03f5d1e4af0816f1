// Two pages on one song, both changed at random: in the end both and the database have the same. `JUBO_PAIR_SECONDS=3600` makes it long.
import { expect, test, type APIRequestContext, type Page } from "@playwright/test";
import { randomSource } from "../src/core/signal/random";
import type { Song } from "../src/core/song/song";
import { copyOf, readSong } from "./songApi";

const seconds = Number(process.env["JUBO_PAIR_SECONDS"] ?? 25);
const next = randomSource(Number(process.env["JUBO_SEED"] ?? 5));
const below = (n: number): number => Math.floor(next() * n);

const songIn = (page: Page) =>
  page.evaluate(() => (window as unknown as { jubo: { song(): Song } }).jubo.song());

const versionOf = async (request: APIRequestContext, id: string): Promise<number> =>
  ((await (await request.get(`/api/songs/${id}`)).json()) as { version: number }).version;

/** Does what a page that is late asks for; it may be gone when it is pressed. */
async function loadAnew(page: Page): Promise<void> {
  const anew = page.getByRole("button", { name: "Load the song anew" });
  if (await anew.isVisible()) await anew.click({ timeout: 3000 }).catch(() => {});
}

/** One change by somebody who works there; a page that is told that it is late loads the song anew, as it offers. */
async function work(page: Page): Promise<void> {
  await loadAnew(page);
  const table = page.getByRole("table", { name: "Mix" });
  const mutes = table.getByRole("button", { name: /^Mute \d\d/ });
  const levels = table.getByRole("textbox", { name: /^Level of \d\d .*typed$/ });
  const soon = { timeout: 3000 };
  const ways = [
    () => mutes.nth(below(5)).click(soon),
    async () => {
      const field = levels.nth(below(5));
      await field.fill(String(-below(20)), soon);
      await field.press("Enter", soon);
    },
    () => page.keyboard.press("Control+z"),
    () => page.keyboard.press("Control+Shift+z"),
  ];
  // What is covered by a message at that moment is not pressed; the next round is.
  await ways[below(ways.length)]!().catch(() => {});
}

test("two pages that change one song at random end with the same song, which is that of the database", async ({
  browser,
  request,
}) => {
  test.setTimeout(120_000 + 1500 * seconds);
  const id = await copyOf(request, "Ferry Room Stomp", "Two at once");
  const pages = await Promise.all([0, 1].map(async () => (await browser.newContext()).newPage()));
  for (const page of pages) {
    await page.goto(`/songs/${id}`);
    await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
    await page.keyboard.press("6");
  }
  const before = await versionOf(request, id);
  const until = Date.now() + 1000 * seconds;
  let changes = 0;
  while (Date.now() < until) {
    await Promise.all(pages.map(work));
    changes += 2;
  }
  for (const page of pages) {
    await page.waitForTimeout(1500);
    await loadAnew(page);
  }
  const stored = async () => JSON.stringify((await readSong(request, id)).song);
  // The first may not know yet what the second did last: its next change would be told that it is late, and a reload is what that asks for.
  for (const page of pages) {
    await expect(page.getByText("saved", { exact: true })).toBeVisible();
    if (JSON.stringify(await songIn(page)) !== (await stored())) await page.reload();
    await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  }
  const [first, second] = await Promise.all(pages.map(async (page) => JSON.stringify(await songIn(page))));
  expect(first).toBe(await stored());
  expect(second).toBe(first);
  process.stdout.write(
    `    ${changes} moves in two pages, ${(await versionOf(request, id)) - before} of them taken\n`,
  );
  for (const page of pages) await page.context().close();
});
