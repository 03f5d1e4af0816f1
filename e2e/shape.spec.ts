import { expect, test, type Page } from "@playwright/test";
import type { Song } from "../src/core/song/song";
import { expectSaved, readSong, variedSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Shaped", 421, 6);
});

const chain = (page: Page) => page.getByRole("region", { name: /^Chain of/ });
const effect = (page: Page) => page.getByTestId("effect");
async function openStep(page: Page): Promise<void> {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("5");
}
async function openSnare(page: Page, processor: string): Promise<void> {
  await openStep(page);
  await page
    .getByRole("button", { name: /^Snare, / })
    .first()
    .click();
  await chain(page).getByRole("button", { name: processor, exact: true }).click();
}
const snareOf = (song: Song) => song.mics.find((m) => m.piece === "snare" && m.reference === null)!;
const paramsOf = (song: Song, type: string) => snareOf(song).chain.find((p) => p.type === type)!.params;
const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;

test("the kit is shaped in a flavour, one drum in another, and one step undoes it", async ({ page }) => {
  await openStep(page);
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expectSaved(page);
  const modern = await song(page);
  await page
    .getByRole("group", { name: "Flavour of the kit" })
    .getByRole("button", { name: "vintage" })
    .click();
  await expectSaved(page);
  const vintage = await song(page);
  expect(vintage.shaping).toMatchObject({ flavour: "vintage", byPiece: {} });
  expect(paramsOf(vintage, "compressor")["ratio"]).toBe(3);
  expect(paramsOf(modern, "compressor")["ratio"]).toBe(4);
  await page
    .getByRole("button", { name: /^Snare, / })
    .first()
    .click();
  await page
    .getByRole("group", { name: "Flavour of Snare" })
    .getByRole("button", { name: "natural" })
    .click();
  await expectSaved(page);
  const natural = await song(page);
  expect(paramsOf(natural, "compressor")["ratio"]).toBe(2);
  expect(snareOf(natural).chain.find((p) => p.type === "saturation")!.on).toBe(false);
  for (let i = 0; i < 2; i++) {
    await page.keyboard.press("Control+z");
    await expectSaved(page);
  }
  expect((await song(page)).mics).toEqual(modern.mics);
});

test("a card says what the picture beside it measures", async ({ page }) => {
  await openSnare(page, "Compressor");
  const card = page.locator(".proposal strong").first();
  await expect(card).toHaveText(/^−\d+\.\d dB per stroke here$/, { timeout: 30_000 });
  await expect(effect(page)).toContainText(/median \d+\.\d dB of reduction/, { timeout: 30_000 });
  const told = Number(/(\d+\.\d)/.exec((await card.textContent())!)![1]);
  const headline = Number(/median (\d+\.\d)/.exec((await effect(page).textContent())!)![1]);
  expect(Math.abs(told - headline)).toBeLessThan(0.06);
});

test("the tones a drum rings in are named, and a press cuts one, tied to the fundamental", async ({
  page,
}) => {
  await openSnare(page, "EQ");
  const partials = page.getByRole("group", { name: "Partials" });
  await expect(partials).toBeVisible({ timeout: 60_000 });
  const second = partials.getByRole("button").nth(1);
  const [, ratio] = /×(\d+\.\d\d)/.exec((await second.textContent())!)!;
  await second.click();
  await expectSaved(page);
  const eq = paramsOf(await song(page), "eq");
  const tied = Object.entries(eq).find(
    ([name, value]) => /^bell\d+Ratio$/.test(name) && value === Number(ratio),
  );
  expect(tied).toBeDefined();
  expect(eq[tied![0].replace("Ratio", "Gain")]).toBe(-4);
});

test("pictures read what comes into the processor: behind Cancel, a stretch of the song; another EQ before it moves them", async ({
  page,
}) => {
  await openSnare(page, "Compressor");
  await expect(effect(page)).toContainText(/median/, { timeout: 30_000 });
  const read = async () => (await effect(page).textContent())!;
  const plain = await read();
  await openStep(page);
  await page.keyboard.press("4");
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expectSaved(page);
  expect(snareOf(await song(page)).chain[0]).toMatchObject({ type: "cancel", on: true });
  await openSnare(page, "Compressor");
  await expect(
    page.getByText(/^\d+( of \d+ main strokes: a stretch behind Cancel| main strokes)$/),
  ).toBeVisible({ timeout: 60_000 });
  await chain(page).getByRole("button", { name: "EQ", exact: true }).click();
  await page.getByLabel("Band 1 gain, typed").fill("9");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  await chain(page).getByRole("button", { name: "Compressor", exact: true }).click();
  await expect.poll(read, { timeout: 60_000 }).toMatch(/median/);
  await expect.poll(read, { timeout: 60_000 }).not.toBe(plain);
});

test("a wished reduction is dragged, and sought again when the attack has changed", async ({ page }) => {
  await openSnare(page, "Compressor");
  await expect(effect(page)).toContainText(/median/, { timeout: 60_000 });
  await page.getByRole("button", { name: "Spread" }).click();
  const plot = page.getByRole("img", { name: /^Gain reduction per stroke/ });
  const box = (await plot.boundingBox())!;
  const median = async () =>
    Number(/median (\d+\.\d)/.exec((await effect(page).textContent())!)?.[1] ?? "NaN");
  const before = (await song(page)).mics;
  // The scale goes from 0 to 20 dB between its axis and the right edge.
  const at = (db: number) => box.x + 46 + ((box.width - 46 - 10) * db) / 20;
  const from = at(await median());
  await page.mouse.move(from, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(at(7.5), box.y + box.height / 2, { steps: 6 });
  await page.mouse.move(at(8), box.y + box.height / 2);
  await page.mouse.up();
  await expect.poll(median, { timeout: 30_000 }).toBeGreaterThan(6.9);
  expect(await median()).toBeLessThan(9.1);
  await expectSaved(page);
  expect((await song(page)).mics).not.toEqual(before);
  const held = await median();
  await page.getByLabel("Attack, typed").fill("30 ms");
  await page.keyboard.press("Enter");
  const back = page.getByRole("button", { name: /^Back to \d+\.\d dB of reduction$/ });
  await expect(back).toBeVisible({ timeout: 30_000 });
  await back.click();
  await expect.poll(median, { timeout: 30_000 }).toBeGreaterThan(held - 0.8);
  await expect(back).toBeHidden({ timeout: 30_000 });
});

test("the attack is found by ear in three steps, or left as it was", async ({ page }) => {
  await openSnare(page, "Compressor");
  await expect(effect(page)).toContainText(/median/, { timeout: 60_000 });
  const before = paramsOf(await song(page), "compressor");
  await page.getByRole("button", { name: "Find the attack by ear" }).click();
  await expectSaved(page);
  expect(paramsOf(await song(page), "compressor")).toMatchObject({ ratio: 10, attack: 0.0002 });
  await page.getByRole("button", { name: "Leave it as it was" }).click();
  await expectSaved(page);
  expect(paramsOf(await song(page), "compressor")).toEqual(before);
  await page.getByRole("button", { name: "Find the attack by ear" }).click();
  await page.getByLabel("Attack, typed").fill("12 ms");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Back off" }).click();
  const ratio = before["ratio"];
  await expect
    .poll(async () => paramsOf(await song(page), "compressor")["ratio"], { timeout: 30_000 })
    .toBe(ratio);
  expect(paramsOf(await song(page), "compressor")).toMatchObject({
    attack: 0.012,
    release: before["release"],
  });
  await expect(effect(page)).toContainText(/median [4-7]\.\d dB of reduction/, { timeout: 30_000 });
});

test("a band is swept by ear and becomes a cut where it is let go, one band and one step", async ({
  page,
}) => {
  await openSnare(page, "EQ");
  await expect(page.getByText(/^\d+ strokes$/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Tail", exact: true }).click();
  await expect(page.getByText(/^tail of \d+ strokes$/)).toBeVisible();
  const before = paramsOf(await song(page), "eq");
  const box = (await page.getByRole("slider", { name: "Search by ear" }).boundingBox())!;
  const grip = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(grip.x - 12 * i, grip.y);
  await page.mouse.up();
  await expectSaved(page);
  const after = paramsOf(await song(page), "eq");
  const changed = Object.keys(after).filter((name) => after[name] !== before[name]);
  const bands = new Set(changed.map((name) => /^bell(\d+)/.exec(name)?.[1]));
  expect(bands.size).toBe(1);
  const n = [...bands][0]!;
  expect(after[`bell${n}Gain`]).toBe(-6);
  expect(after[`bell${n}Frequency`] as number).toBeLessThan(5000);
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  expect(paramsOf(await song(page), "eq")).toEqual(before);
});

test("a band is put where the drum sounds by a press: tied to the fundamental, or cutting the ring", async ({
  page,
}) => {
  await openSnare(page, "EQ");
  await expect(page.getByText(/^\d+ strokes$/)).toBeVisible({ timeout: 60_000 });
  await page.getByLabel("Band 1 gain, typed").fill("0");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  await page.getByRole("button", { name: "Lift the fundamental" }).click();
  await expectSaved(page);
  await expect(page.getByRole("button", { name: "Lift the fundamental" })).toBeHidden();
  const after = paramsOf(await song(page), "eq");
  const tied = Object.keys(after).filter((name) => /^bell\d+Ratio$/.test(name) && after[name] === 1);
  expect(tied).toHaveLength(1);
  expect(after["fundamental"] as number).toBeGreaterThan(100);
});

test("strokes are points that can be heard, in and out and along the song; colour shows its harmonics", async ({
  page,
}) => {
  await openSnare(page, "Compressor");
  await expect(effect(page)).toContainText(/median/, { timeout: 60_000 });
  await page.getByRole("button", { name: "In and out" }).click();
  await expect(page.getByRole("img", { name: /Peak of every stroke/ })).toBeVisible();
  await page.getByRole("button", { name: "Along the song" }).click();
  await expect(page.getByRole("img", { name: /along the song/ })).toBeVisible();
  await chain(page).getByRole("button", { name: "Saturation", exact: true }).click();
  await page.getByRole("button", { name: "Harmonics", exact: true }).click();
  await expect(page.getByRole("img", { name: /Harmonics that are added to a tone of \d+ Hz/ })).toBeVisible({
    timeout: 30_000,
  });
});

test("the server makes a stretch behind Cancel, and refuses values that Cancel does not have", async ({
  request,
}) => {
  const { song: now } = await readSong(request, id);
  const path = `/api/songs/${id}/mics/${snareOf(now).id}/cancelled`;
  const good = await request.get(`${path}?strength=50`);
  expect(good.status()).toBe(200);
  const { from, channels } = JSON.parse(good.headers()["x-stretch"]!) as { from: number; channels: number };
  const bytes = (await good.body()).length;
  expect(channels).toBe(snareOf(now).channels);
  expect(bytes).toBe(4 * channels * Math.min(now.frames - from, 30 * rate));
  for (const bad of ["strength=200", "strength=x", "depth=3"]) {
    const answer = await request.get(`${path}?${bad}`);
    expect([bad, answer.status()]).toEqual([bad, 400]);
  }
  expect((await request.get(`/api/songs/${id}/mics/nobody/cancelled`)).status()).toBe(404);
});

test("quick controls drive real processors, matched; what is set by hand is yours and given back; one step undoes", async ({
  page,
}) => {
  await openSnare(page, "Compressor");
  const quick = page.getByRole("region", { name: /^Quick controls of/ });
  await quick.getByRole("button", { name: /^Quick controls/ }).click();
  await expect(quick.getByTestId("quick-basis")).toHaveText(/^by \d+ strokes: \d+ Hz, stick/, {
    timeout: 60_000,
  });
  const turn = async (control: string, to: string) => {
    await quick.getByLabel(`${control}, typed`).fill(to);
    await page.keyboard.press("Enter");
    await expectSaved(page);
  };
  await turn("Weight", "60");
  await turn("Density", "70");
  await expect(quick.getByTestId("quick-basis")).toHaveText(/level matched by [+−]\d/, { timeout: 30_000 });
  const part = (of: Song, type: string) => snareOf(of).chain.find((p) => p.id.endsWith(`quick.${type}`))!;
  await expect
    .poll(async () => (await song(page)).quick[snareOf(await song(page)).id]?.values)
    .toMatchObject({ weight: 60, density: 70 });
  const driven = await song(page);
  expect(part(driven, "eq").params["bell1Gain"]).toBeCloseTo(3.6, 6);
  expect(part(driven, "compressor")).toMatchObject({ on: true });
  await chain(page).getByRole("button", { name: "Compressor, quick", exact: true }).click();
  await expect(effect(page)).toContainText(/median \d/, { timeout: 60_000 });
  await chain(page).getByRole("button", { name: "EQ, quick", exact: true }).click();
  await page.getByLabel("Band 1 gain, typed").fill("1");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  await expect(quick.getByText("Yours by now:")).toBeVisible();
  await turn("Weight", "-30");
  await expect.poll(async () => part(await song(page), "eq").params["bell1Gain"]).toBe(1);
  await quick.getByRole("button", { name: /^weight/ }).click();
  await expect.poll(async () => part(await song(page), "eq").params["bell1Gain"]).toBeCloseTo(-1.8, 6);
  await expect(quick.getByText("Yours by now:")).toBeHidden();
  await page.getByRole("combobox", { name: "What is compared" }).selectOption("flavour");
  await expect(page.getByRole("button", { name: "proposed" })).toBeEnabled();
  await quick.getByRole("button", { name: "Take out" }).click();
  await expect
    .poll(async () => snareOf(await song(page)).chain.some((p) => p.id.includes("quick")))
    .toBe(false);
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect.poll(async () => part(await song(page), "eq")?.params["bell1Gain"]).toBeCloseTo(-1.8, 6);
});

test("a bus is judged by what comes into it: the kit's strokes, another level before it moves them; stale asks are refused", async ({
  page,
}) => {
  await openStep(page);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "What it does" }).click();
  await chain(page).getByRole("button", { name: "Compressor", exact: true }).click();
  await expect(
    page.getByText(/^\d+( of \d+ main strokes: a stretch of what comes into the bus| main strokes)$/),
  ).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "In and out" }).click();
  const wrong = await page.request.get(`/api/songs/${id}/buses/kit/input?stands=other`);
  expect(wrong.status()).toBe(409);
  expect(((await wrong.json()) as { message: string }).message).toContain("ask again when it is saved");
  expect((await page.request.get(`/api/songs/${id}/buses/none/input?stands=x`)).status()).toBe(404);
});

test("a chain is tuned to the drum it goes to, line by line; toms kept together follow each other, exceptions stay", async ({
  page,
}) => {
  const toms = async () =>
    (await song(page)).mics.filter(
      (m) => /^(tom|floor)/.test(m.piece) && !m.reference && !m.silent && !m.unplayed,
    );
  expect((await toms()).length).toBeGreaterThan(1);
  await openStep(page);
  await page
    .getByRole("button", { name: new RegExp(`^(Tom|Floor).*, 1 mic`) })
    .first()
    .click();
  const set = (of: { chain: readonly { type: string; params: Record<string, unknown> }[] }, type: string) =>
    of.chain.find((p) => p.type === type)!;
  await page.getByText("Toms together").click();
  await page.getByRole("button", { name: "Keep them together" }).click();
  await expectSaved(page);
  expect((await song(page)).shaping.tomsTogether).toBe(true);
  await chain(page).getByRole("button", { name: "EQ", exact: true }).click();
  await page.getByLabel("Band 1 gain, typed").fill("-5");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  await expect
    .poll(async () => (await toms()).map((m) => set(m, "eq").params["bell1Gain"]))
    .toEqual((await toms()).map(() => -5));
  await page.getByText("Toms together").click();
  await expectSaved(page);
  await page.getByLabel("Band 1 gain, typed").fill("2");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  const gains = (await toms()).map((m) => set(m, "eq").params["bell1Gain"]);
  expect(gains.filter((g) => g === 2)).toHaveLength(1);
  // The same chain onto the snare: what follows the drum is listed, and one line is refused.
  await chain(page).getByRole("button", { name: "Compressor", exact: true }).click();
  await chain(page).getByLabel("Compressor on").check();
  await expectSaved(page);
  await page.getByRole("button", { name: "Chain", exact: true }).click();
  await page.getByRole("button", { name: "Copy the chain" }).click();
  await page.getByRole("button", { name: "Chain", exact: true }).click();
  await page.getByRole("button", { name: "Paste onto several …" }).click();
  const snare = snareOf(await song(page));
  await page
    .getByRole("dialog")
    .getByLabel(snare.file.replace(/\.\w+$/, ""), { exact: true })
    .first()
    .check();
  const list = page.getByRole("table", { name: "Tuned to each drum" });
  await expect(list).toBeVisible();
  const threshold = list.getByRole("row").filter({ hasText: "Compressor: Threshold" });
  const there = (await threshold.getByRole("cell").nth(2).textContent())!;
  await threshold.getByRole("checkbox").uncheck();
  await page.getByRole("button", { name: /^Paste onto/ }).click();
  await expectSaved(page);
  const pasted = set(snareOf(await song(page)), "compressor").params["threshold"] as number;
  expect(`${pasted} dB`.replace("-", "−")).toBe(there);
});

test("attack and tail of the average stroke are lifted by grips, by pointer and by keys", async ({
  page,
}) => {
  await openSnare(page, "EQ");
  await chain(page).getByRole("button", { name: "Add", exact: true }).click();
  await chain(page).getByRole("button", { name: "Attack and sustain", exact: true }).click();
  await expectSaved(page);
  const attack = page.getByRole("slider", { name: "Attack", exact: true }).and(page.locator(".plot-grip"));
  await expect(attack).toBeVisible({ timeout: 60_000 });
  const box = (await attack.boundingBox())!;
  await page.mouse.move(box.x + 12, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(box.x + 12, box.y - 8, { steps: 4 });
  await page.mouse.up();
  await expectSaved(page);
  const lifted = paramsOf(await song(page), "transient");
  expect(lifted["attack"]).toBeGreaterThan(2);
  const tail = page.getByRole("slider", { name: "Tail", exact: true }).and(page.locator(".plot-grip"));
  await tail.focus();
  for (let i = 0; i < 4; i++) await tail.press("ArrowDown");
  await expectSaved(page);
  expect(paramsOf(await song(page), "transient")["sustain"]).toBeLessThan(-1);
});
