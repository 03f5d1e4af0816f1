import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { askBelow } from "../src/core/gather/labelQuestions";
import { isShell, mainMic, type Piece, type Song } from "../src/core/song/song";
import { deliverSong, expectSaved, readSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(409, 6);
  const { mics } = simulate(kit, song, rate, 409);
  // One close mic carries a name that says nothing.
  const nameless = mics.findIndex((m) => m.spec.piece === "snare");
  const named = mics.map((m, i) => (i === nameless ? { ...m, spec: { ...m.spec, file: "Audio 7.wav" } } : m));
  id = await deliverSong(request, "Wrong labels", named, rate);
});

const openFiles = async (page: Page) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("group", { name: /^Files/ })).toBeVisible();
};
const press = async (page: Page, file: string, ...keys: string[]) => {
  await page.getByTitle(`${file}, `).click();
  await page.getByRole("group", { name: /^Files/ }).focus();
  for (const key of keys) await page.keyboard.press(key);
};

test("strokes, bleed and what proposals know follow a corrected label; undone, they are as before", async ({
  page,
  request,
}) => {
  test.setTimeout(180_000);
  const { song } = await readSong(request, id);
  const struck = (hits: typeof song.hits, piece: Piece) => hits.filter((h) => h.piece === piece).length;
  const old = song.mics.find(
    (m) => isShell(m.piece) && m.piece.startsWith("tom") && mainMic(song.mics, m.piece) === m,
  )!;
  const strokes = struck(song.hits, old.piece);
  expect(strokes).toBeGreaterThan(0);
  expect(song.mics.some((m) => m.piece === "tom3")).toBe(false);
  await openFiles(page);
  await press(page, old.file, "Shift+Digit3");
  await expect.poll(async () => struck((await readSong(request, id)).song.hits, "tom3")).toBe(strokes);
  const labelled = async () => (await readSong(request, id)).facts!.labels[old.id]!.piece;
  await expect.poll(labelled, { timeout: 60_000 }).toBe("tom3");
  const now = await readSong(request, id);
  expect(Object.keys(now.facts!.events)).not.toContain(old.piece);
  expect(now.song.bleed[old.id]![0]!.drums).toHaveProperty("tom3");
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await readSong(request, id)).song.hits).toEqual(song.hits);
  expect((await readSong(request, id)).song.bleed).toEqual(song.bleed);
});

test("a file that is no drum's mic any more: everything is found anew by itself", async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  const { song } = await readSong(request, id);
  const cymbal = song.mics.find((m) => m.piece === "hat" || m.piece === "ride")!;
  await openFiles(page);
  await press(page, cymbal.file, "Shift+X");
  const heardAs = async () => (await readSong(request, id)).song.heardAs![cymbal.id]!.piece;
  await expect.poll(heardAs, { timeout: 180_000 }).toBe("context");
  expect((await readSong(request, id)).song.mics.find((m) => m.id === cymbal.id)!.piece).toBe("context");
  await expect(page.getByText("They follow when a label is corrected.", { exact: false })).toBeVisible();
});

test("a file that was only heard is asked about; A plays it alone and leaves the song as it is, Yes settles it", async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const opened = (await (await request.get(`/api/songs/${id}`)).json()) as { song: Song; version: number };
  const mic = opened.song.mics.find((m) => m.file === "Audio 7.wav")!;
  // However sure this one was: now it is not.
  const unsure = { op: "setMic", mic: mic.id, values: { sure: askBelow - 0.1 } };
  const data = { version: opened.version, label: "Unsure", operation: unsure };
  expect((await request.post(`/api/songs/${id}/operations`, { data })).ok()).toBe(true);
  await openFiles(page);
  const questions = page.getByRole("region", { name: "Is that right?" });
  await expect(questions.getByText("Audio 7", { exact: false })).toBeVisible();
  await press(page, mic.file, "a");
  const solo = page.locator("button[aria-pressed=true]", { hasText: "solo" });
  await expect(solo).toHaveCount(1);
  await expect(solo).toHaveCount(0, { timeout: 30_000 });
  await expectSaved(page);
  expect((await readSong(request, id)).song.mics.some((m) => m.soloed)).toBe(false);
  await questions.getByRole("button", { name: /^Yes, Audio 7/ }).click();
  await expect
    .poll(async () => (await readSong(request, id)).song.mics.find((m) => m.id === mic.id)!.sure)
    .toBe(1);
  await expect(questions.getByText("Audio 7", { exact: false })).toHaveCount(0);
});
