import { expect, test, type Page } from "@playwright/test";
import type { Song } from "../src/core/song/song";
import { expectSaved, readSong, variedSong } from "./songApi";

let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Revised", 433, 3);
});

const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;
const keep = async (page: Page, name: string) => {
  await page.getByLabel("Name of the revision").fill(name);
  await page.getByRole("button", { name: /^Keep as revision/ }).click();
  await expect(page.getByRole("heading", { name: new RegExp(`\\d+\\. ${name}`) })).toBeVisible();
};

test("revisions say what changed, are compared while it plays, gone back to in one step, and give one drum", async ({
  page,
}) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Revisions" }).click();
  await keep(page, "Rough");
  const rough = await song(page);
  await page.keyboard.press("5");
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expectSaved(page);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expectSaved(page);
  await page.getByRole("button", { name: "Revisions" }).click();
  await keep(page, "Mixed");
  const mixed = await song(page);
  expect(mixed.mics).not.toEqual(rough.mics);
  const second = page.getByRole("listitem").filter({ has: page.getByRole("heading", { name: /2\. Mixed/ }) });
  await expect(second.getByText(/switched on|new /).first()).toBeVisible();

  // The limiter on the kit makes the newer one later: the older one runs beside it all the same.
  await page.getByLabel("What is compared").selectOption({ label: "an earlier state …" });
  await page.getByLabel("Earlier state").selectOption({ label: "1: Rough" });
  await page.getByRole("button", { name: "then" }).click();
  await expect(page.getByRole("button", { name: "then" })).toHaveAttribute("aria-pressed", "true");

  const first = page.getByRole("listitem").filter({ has: page.getByRole("heading", { name: /1\. Rough/ }) });
  await first.getByRole("button", { name: "One drum of it" }).click();
  await page.getByRole("button", { name: "Snare", exact: true }).last().click();
  await expect(page.getByRole("button", { name: /^Undo: Snare of revision 1/ })).toBeVisible();
  await expectSaved(page);
  const snare = (s: Song) => s.mics.filter((m) => m.piece === "snare").map((m) => m.chain);
  const kick = (s: Song) => s.mics.filter((m) => m.piece === "kick");
  expect(snare(await song(page))).toEqual(snare(rough));
  expect(kick(await song(page))).toEqual(kick(mixed));
  await first.getByRole("button", { name: "Go back to it" }).click();
  await expect(page.getByRole("button", { name: /^Undo: Back to revision 1/ })).toBeVisible();
  await expectSaved(page);
  const back = await song(page);
  expect(back.mics).toEqual(rough.mics);
  expect(back.buses).toEqual(rough.buses);
  for (let i = 0; i < 2; i++) {
    await page.keyboard.press("Control+z");
    await expectSaved(page);
  }
  expect((await song(page)).mics).toEqual(mixed.mics);
  const archive = await page.request.get(`/api/songs/${id}/archive?revision=1`);
  expect(archive.headers()["content-disposition"]).toContain("Revised%201.jubo.zip");
});
