import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { partsOf } from "../src/core/song/chain";
import type { Song } from "../src/core/song/song";
import { deliverSong, expectSaved, readSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(412, 4);
  id = await deliverSong(request, "Many ways", simulate(kit, song, rate, 412).mics, rate);
});

const songNow = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;
const owner = (song: Song, name: RegExp | string) =>
  [...song.mics, ...song.buses].find((o) => {
    const called = "file" in o ? o.file : o.name;
    return typeof name === "string" ? called === name : name.test(called);
  })!;
const types = async (page: Page, name: RegExp | string) =>
  partsOf(owner(await songNow(page), name).chain).free.map((p) => p.type);
const chain = (page: Page) => page.getByRole("region", { name: /^Chain of/ });
const mix = (page: Page) => page.getByRole("table", { name: "Mix" });
const open = async (page: Page) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
};
const choose = (page: Page, name: string) => mix(page).getByRole("button", { name, exact: true }).click();
const undo = async (page: Page) => {
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expectSaved(page);
};

test("a new song: mics to their drum, drums to shells, cymbals or rooms", async ({ page }) => {
  const song = await songNow(page);
  const snare = song.buses.find((b) => b.kind === "drum" && b.piece === "snare");
  const tops = song.mics.filter((m) => m.piece === "snare");
  if (tops.length > 1) expect(tops.every((m) => m.output === snare!.id)).toBe(true);
  for (const m of song.mics.filter((x) => x.piece === "hat")) expect(m.output).toBe("cymbals");
  expect(song.buses.find((b) => b.id === "shells")).toMatchObject({ output: "kit", name: "Shells" });
});

test("a chain of anything: added, moved by keyboard and by dragging, copied onto many, kept, put back", async ({
  page,
}) => {
  await open(page);
  await choose(page, "Shells");
  const add = async (label: string) => {
    await chain(page).getByRole("button", { name: "Add" }).click();
    await page.getByRole("button", { name: label, exact: true }).last().click();
    await expectSaved(page);
  };
  for (const label of ["EQ", "Compressor", "EQ"]) await add(label);
  expect(await types(page, "Shells")).toEqual(["eq", "compressor", "eq"]);
  const second = chain(page).getByRole("button", { name: "EQ 2", exact: true });
  await second.focus();
  await page.keyboard.press("Alt+ArrowLeft");
  await expectSaved(page);
  expect(await types(page, "Shells")).toEqual(["eq", "eq", "compressor"]);
  // Dragged to the front.
  const grip = chain(page).getByRole("listitem").nth(2).locator(".grip");
  const first = (await chain(page).getByRole("listitem").first().boundingBox())!;
  const from = (await grip.boundingBox())!;
  await page.mouse.move(from.x + 4, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x - 30, from.y + 10, { steps: 4 });
  await page.mouse.move(first.x + 6, first.y + 12, { steps: 12 });
  await page.mouse.up();
  await expectSaved(page);
  expect(await types(page, "Shells")).toEqual(["compressor", "eq", "eq"]);
  const one = chain(page).getByRole("button", { name: "EQ 2", exact: true });
  await one.focus();
  await page.keyboard.press("Delete");
  await expectSaved(page);
  expect(await types(page, "Shells")).toEqual(["compressor", "eq"]);

  const menu = async (item: RegExp) => {
    await chain(page).getByRole("button", { name: "Chain", exact: true }).click();
    await page.getByRole("button", { name: item }).click();
  };
  await menu(/^Copy the chain/);
  await menu(/^Paste onto several/);
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Cymbals", { exact: true }).check();
  await dialog.getByLabel("Rooms", { exact: true }).check();
  await dialog.getByLabel("Shells", { exact: true }).uncheck();
  await dialog.getByRole("button", { name: "Paste onto 2" }).click();
  await expectSaved(page);
  expect(await types(page, "Cymbals")).toEqual(["compressor", "eq"]);
  expect(await types(page, "Rooms")).toEqual(["compressor", "eq"]);

  const name = `Squeeze ${Date.now() % 100000}`;
  await menu(/^Keep this chain/);
  await page.getByLabel("Name", { exact: true }).last().fill(name);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await choose(page, "Kit");
  await menu(new RegExp(`^Take “${name}”`));
  await expectSaved(page);
  expect(await types(page, "Kit")).toEqual(["compressor", "eq"]);
  await menu(/^Put back what was proposed/);
  await expectSaved(page);
  expect(await types(page, "Kit")).toEqual(["eq", "compressor", "saturation", "limiter"]);
  expect(owner(await songNow(page), "Kit").chain.find((p) => p.type === "compressor")!.on).toBe(true);
  await chain(page).getByRole("button", { name: "Chain", exact: true }).click();
  await page.getByRole("button", { name: `Give “${name}” up` }).click();
  await expect(page.getByRole("button", { name: `Give “${name}” up` })).toHaveCount(0);
});

test("ways: chosen from a list without loops, dragged in the picture, sends, a parallel copy with its null test, undone", async ({
  page,
}) => {
  await open(page);
  await page.getByRole("button", { name: "Add a bus" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Low drums");
  await page.keyboard.press("Enter");
  await expectSaved(page);
  await mix(page).getByLabel("Shells goes to").selectOption({ label: "Low drums" });
  await expectSaved(page);
  await expect(
    mix(page).getByLabel("Low drums goes to").locator("option", { hasText: "Shells" }),
  ).toHaveCount(0);
  const low = owner(await songNow(page), "Low drums");
  expect(owner(await songNow(page), "Shells").output).toBe(low.id);

  await page.getByRole("button", { name: "Who feeds whom" }).click();
  const box = (name: string) => page.locator(".graph .box").filter({ hasText: name }).first();
  const from = (await box("Cymbals").boundingBox())!;
  const to = (await box("Low drums").boundingBox())!;
  await page.mouse.move(from.x + 40, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + to.height / 2, { steps: 10 });
  await page.mouse.up();
  await expectSaved(page);
  expect(owner(await songNow(page), "Cymbals").output).toBe(low.id);
  await undo(page);

  await page.getByRole("button", { name: "Levels" }).click();
  await choose(page, "Shells");
  const sends = page.getByRole("region", { name: "Sends of Shells" });
  await sends.getByLabel("Send Shells to").selectOption({ label: "Room" });
  const level = sends.getByLabel("Send of Shells to Room, dB");
  await expect(level).toHaveValue("0 dB");
  await level.fill("-7.5");
  await page.keyboard.press("Enter");
  await sends.getByLabel("Send of Shells to Room is taken").selectOption({ label: "before the chain" });
  await sends.getByLabel("pan").uncheck();
  await expectSaved(page);
  expect(owner(await songNow(page), "Shells").sends).toEqual([
    { bus: "room", level: -7.5, from: "input", followsPan: false },
  ]);

  await page.getByRole("button", { name: "Copy before the chain" }).click();
  await expectSaved(page);
  const copy = owner(await songNow(page), "Shells parallel");
  expect(copy).toMatchObject({ kind: "parallel", output: low.id });
  await page.getByRole("button", { name: "Null test" }).click();
  await expect(page.getByText(/^In time: /)).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Take the bus out" }).click();
  await expectSaved(page);
  expect(owner(await songNow(page), "Shells").sends).toHaveLength(1);
  await choose(page, "Low drums");
  await page.getByRole("button", { name: "Take the bus out" }).click();
  await expectSaved(page);
  expect(owner(await songNow(page), "Shells").output).toBe("kit");
  await undo(page);
  expect(owner(await songNow(page), "Shells").output).toBe(low.id);
});

test("copies come with a chain that is fitted to the strokes: a crushed middle, attacks alone; one step each", async ({
  page,
}) => {
  await open(page);
  const before = (await songNow(page)).buses.length;
  await page
    .getByRole("button", { name: /^Kick, / })
    .first()
    .click();
  const panel = page.getByRole("region", { name: /^Way of/ });
  await panel.getByRole("button", { name: "Crushed middle" }).click();
  await expect.poll(async () => (await songNow(page)).buses.length, { timeout: 60_000 }).toBe(before + 1);
  const crushed = (await songNow(page)).buses.find((b) => b.name.endsWith("crushed"))!;
  const [band, squeeze] = crushed.chain;
  expect(band!.params["highPassFrequency"] as number).toBeGreaterThan(100);
  expect(squeeze!.params["threshold"] as number).toBeLessThan(-20);
  expect(squeeze!.params["makeup"] as number).toBeGreaterThan(2);
  // What the picture of the copy measures is what was sought.
  await page.getByRole("button", { name: "What it does" }).click();
  await chain(page).getByRole("button", { name: "Compressor", exact: true }).click();
  const told = page.getByTestId("effect");
  await expect(told).toContainText(/median \d+\.\d dB/, { timeout: 60_000 });
  expect(Math.abs(Number(/median (\d+\.\d)/.exec((await told.textContent())!)![1]) - 13)).toBeLessThan(1.5);
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect.poll(async () => (await songNow(page)).buses.length).toBe(before);
  // Attacks alone are as high as what comes in: the picture of the copy says so.
  await panel.getByRole("button", { name: "Attacks alone" }).click();
  await expect
    .poll(async () => (await songNow(page)).buses.some((b) => b.name.endsWith("attacks")), {
      timeout: 60_000,
    })
    .toBe(true);
  await chain(page).getByRole("button", { name: "Attack and sustain", exact: true }).click();
  await expect(told).toContainText(/^peaks [+−±]\d+\.\d dB in the middle/, { timeout: 60_000 });
  expect(Number(/peaks [+−±](\d+\.\d)/.exec((await told.textContent())!)![1])).toBeLessThan(1);
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect.poll(async () => (await songNow(page)).buses.length).toBe(before);
});

test("the balance: a card sets a drum's faders, one step of undo; a fader moved by hand is asked about no more", async ({
  page,
}) => {
  await open(page);
  await choose(page, "Kit");
  const card = page.locator(".proposal", { hasText: "Bring in the overheads" });
  await expect(card).toContainText("dB");
  const told = Number((await card.textContent())!.match(/([+−]\d+\.\d) dB/)![1]!.replace("−", "-"));
  await card.getByRole("button", { name: "Take", exact: true }).click();
  await expectSaved(page);
  const overheads = (await songNow(page)).mics.filter((m) => m.piece === "overhead");
  expect(overheads.some((m) => m.level === told)).toBe(true);
  await expect(card.getByRole("button", { name: "Take", exact: true })).toHaveCount(0);
  await undo(page);
  expect((await songNow(page)).mics.filter((m) => m.piece === "overhead").every((m) => m.level === 0)).toBe(
    true,
  );
  await expect(card.getByRole("button", { name: "Take", exact: true })).toBeVisible();
  const kick = (await songNow(page)).mics.find((m) => m.piece === "kick" && !m.reference)!;
  const asked = async () =>
    Number(/\d+/.exec((await page.getByRole("button", { name: /^Take all/ }).textContent())!)![0]);
  const before = await asked();
  const field = mix(page).getByLabel(`Level of ${kick.file.replace(/\.\w+$/, "")}, typed`);
  await field.fill("-3");
  await field.press("Enter");
  await expectSaved(page);
  expect((await songNow(page)).mics.find((m) => m.id === kick.id)!.level).toBe(-3);
  expect(await asked()).toBe(before - 1);
  await undo(page);
});
