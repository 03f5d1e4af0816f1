import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { deliverSong, expectSaved, readSong, runTask } from "./songApi";

const rate = 48000;
let id = "";
/** A kit whose overheads were recorded by a second machine that runs fast by 30 ppm; analysed once for all tests here. */
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(407, 9);
  for (const m of kit.mics) if (m.piece === "overhead") m.drift = 30;
  const { mics } = simulate(kit, song, rate, 407);
  id = await deliverSong(request, "Two machines", mics, rate);
});
const openAlign = async (page: Page) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("2");
  await expect(page.getByRole("table", { name: "Alignment of the whole kit" })).toBeVisible();
};

test("a second clock that runs off is found, named, corrected, and the correction can be taken back", async ({
  page,
  request,
}) => {
  test.setTimeout(180_000);
  const { song, facts } = await readSong(request, id);
  const overheads = song.mics.filter((m) => m.piece === "overhead");
  for (const m of overheads) expect(Math.abs(facts!.drift[m.id]! - 30)).toBeLessThan(2);
  expect(Object.keys(facts!.drift).length).toBe(overheads.length);
  await openAlign(page);
  const row = page.getByRole("row").filter({ hasText: "its clock runs off by" });
  await expect(row).toHaveCount(overheads.length);
  await runTask(request, id, "clock", { mics: overheads.map((m) => m.id) });
  await runTask(request, id, "analyse", {});
  const after = await readSong(request, id);
  for (const m of after.song.mics.filter((x) => x.piece === "overhead")) {
    expect(Math.abs(m.clockPpm - 30)).toBeLessThan(2);
    expect(Math.abs(after.facts!.drift[m.id]! - m.clockPpm)).toBeLessThan(0.7);
    expect(m.audio).not.toBe(song.mics.find((x) => x.id === m.id)!.audio);
  }
  await page.reload();
  await openAlign(page);
  await expect(row).toHaveCount(0);
  // Undo goes back over the second analysis and the correction: the first copy is played again.
  for (let steps = 0; steps < 2; steps++) {
    const { version } = (await (await request.get(`/api/songs/${id}`)).json()) as { version: number };
    await request.post(`/api/songs/${id}/history`, { data: { version, direction: "undo" } });
  }
  const undone = await readSong(request, id);
  expect(undone.song.mics.map((m) => m.audio)).toEqual(song.mics.map((m) => m.audio));
});

test("the whole kit: an anchor proposes, rows are taken one by one, what is locked stays", async ({
  page,
}) => {
  await openAlign(page);
  const table = page.getByRole("table", { name: "Alignment of the whole kit" });
  await page.getByLabel("What the kit is aligned to").selectOption("overheads");
  const kick = table
    .getByRole("row")
    .filter({ hasText: /^Kick.*the overheads/ })
    .first();
  await expect(kick).toContainText(/\+\d+\.\d\d smp/);
  const wanted = /\+(\d+\.\d\d) smp/.exec(await kick.innerText().then((t) => t.replace(/^.*?smp/s, "")))![1]!;
  await kick.getByRole("button", { name: "Take", exact: true }).click();
  await expect(kick).toContainText("taken");
  await expect(kick.getByRole("cell").nth(2)).toContainText(`+${wanted} smp`);
  const snare = table
    .getByRole("row")
    .filter({ hasText: /^Snare/ })
    .first();
  await snare.getByRole("button", { name: /^Lock/ }).click();
  await expect(snare).toContainText("locked");
  await expect(snare.getByRole("button", { name: "Take", exact: true })).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await page.getByLabel("What the kit is aligned to").selectOption("close");
  await expectSaved(page);
});

test("a pair by keys: polarity and nudges, its sum by band follows at once", async ({ page }) => {
  await openAlign(page);
  await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
  const field = page.getByLabel("Delay: smp, ms or cm");
  const bands = page.getByRole("table", { name: "Sum of both mics by band" });
  await expect(bands).toBeVisible({ timeout: 20_000 });
  const low = async () =>
    Number(
      (await bands.getByRole("row").nth(2).getByRole("cell").nth(2).innerText())
        .replace("−", "-")
        .replace("±", ""),
    );
  const before = await low();
  await page.keyboard.press("p");
  await expect.poll(low).not.toBe(before);
  expect(Math.abs((await low()) - before)).toBeGreaterThan(2); // the low end of a snare's two sides
  await page.keyboard.press("p");
  await expect.poll(low).toBe(before);
  const start = Number((await field.inputValue()).replace(" smp", "").replace("−", "-"));
  await page.keyboard.press(".");
  await page.keyboard.press("Shift+Period");
  await expect(field).toHaveValue(`${start + 1 + 4.8} smp`);
  await page.keyboard.press(",");
  await page.keyboard.press("Shift+Comma");
  await expect(field).toHaveValue(`${start === 0 ? 0 : start} smp`);
  await expectSaved(page);
});

test("files are labelled several at once, by keyboard and by dragging onto the plan; the kit is turned round", async ({
  page,
}) => {
  await openAlign(page);
  await page.keyboard.press("1");
  const table = page.getByRole("table", { name: "Mics" });
  const rows = table.getByRole("row");
  await rows.nth(1).click({ position: { x: 12, y: 12 } });
  await rows.nth(2).click({ modifiers: ["Control"], position: { x: 12, y: 12 } });
  await expect(page.getByText("2 files are marked")).toBeVisible();
  await rows
    .nth(2)
    .getByRole("combobox", { name: /^Place/ })
    .selectOption("side");
  for (const n of [1, 2])
    await expect(rows.nth(n).getByRole("combobox", { name: /^Place/ })).toHaveValue("side");
  await page.keyboard.press("Control+z");
  await expect(rows.nth(1).getByRole("combobox", { name: /^Place/ })).not.toHaveValue("side");
  const hat = page.getByRole("button", { name: /^Hat, 1 mic/ });
  // Rows stand in the order of the kit: one that gets another drum goes to its place.
  const name = (await rows.nth(2).getByRole("cell").first().innerText()).trim();
  const dragged = rows.filter({ hasText: name });
  await dragged.dragTo(hat, { sourcePosition: { x: 12, y: 12 } });
  await expect(dragged.getByRole("combobox", { name: /^Drum/ })).toHaveValue("hat");
  await page.keyboard.press("Control+z");
  await expect(dragged.getByRole("combobox", { name: /^Drum/ })).not.toHaveValue("hat");
  const where = async () => (await page.getByRole("button", { name: /^Hat, / }).boundingBox())!.x;
  const left = await where();
  await page.getByRole("button", { name: "right-handed" }).click();
  await expect.poll(where).toBeGreaterThan(left + 50);
  await page.keyboard.press("Control+z");
  await expect.poll(where).toBe(left);
  await expectSaved(page);
});

test("the mono check says what is lost by band, and that it is old once something changed", async ({
  page,
  request,
}) => {
  await openAlign(page);
  const check = page.getByRole("region", { name: "Mono check" });
  await check.getByRole("button", { name: "Measure" }).click();
  const lost = check
    .getByRole("table", { name: "Loss in mono by band" })
    .getByRole("row")
    .nth(1)
    .getByRole("cell");
  await expect(lost).toHaveCount(9, { timeout: 15_000 });
  for (const text of await lost.allInnerTexts()) {
    const db = Number(text.replace("−", "-").replace("±", ""));
    expect(db).toBeGreaterThan(-25);
    expect(db).toBeLessThan(0.2);
  }
  await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
  await page.keyboard.press("p");
  await page.keyboard.press("k");
  await check.getByRole("button", { name: "Measure" }).click(); // another bench was shown: measured anew
  await expect(lost).toHaveCount(9, { timeout: 15_000 });
  await page.keyboard.press("Control+z");
  await expect(check.getByText("something was changed since")).toBeVisible();
  await expectSaved(page);
  const made = await request.post("/api/songs", { data: { title: "Empty" } });
  const empty = ((await made.json()) as { id: string }).id;
  const refused = await request.get(`/api/songs/${empty}/mono`);
  expect(refused.status()).toBe(400);
  expect(((await refused.json()) as { message: string }).message).toContain("analyse the kit first");
});
